<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { useMachines } from "../../api/queries";
import { headWords } from "../../machines";
import { FORCE_NAMES } from "../../units";
import { say } from "../../notices";
import MachinePortrait from "../../diagrams/MachinePortrait.vue";
import MachineForm from "../../parts/MachineForm.vue";
import { answer, client, type Schemas } from "../../api/client";
import { ifMatch } from "../../composables/seen";
import { useSend } from "../../composables/send";

/** The machines: each can be described anew, and another one set beside it. */
const { data: machines } = useMachines();
const router = useRouter();
const open = ref<number | "new" | null>(null);
const edited = computed(() => machines.value?.find((m) => m.id === open.value));
const SCALE = { dial: "dial", turns: "unmarked knob", readout: "readout" };
function words({ spec }: Schemas["MachineItem"]) {
  const head = headWords(spec);
  const bobbin =
    spec.removable_case === false
      ? "bobbin drops in"
      : spec.has_gauge === false
        ? "no gauge"
        : spec.gauge_unit
          ? `gauge in ${FORCE_NAMES[spec.gauge_unit]}`
          : "a gauge";
  return `${spec.retired ? "retired, " : ""}${head}, ${SCALE[spec.scale.kind]} ${spec.scale.low} to ${spec.scale.high}, ${bobbin}`;
}
const retire = useSend(
  ({ id, version, spec }: Schemas["MachineItem"]) =>
    answer(
      client.PUT("/api/machines/{machine_id}", {
        params: { path: { machine_id: id }, header: ifMatch(version) },
        body: { ...spec, retired: !spec.retired },
      }),
    ),
  {
    says: ({ spec }) =>
      spec.retired ? `${spec.nickname} is retired. Its records stay.` : `${spec.nickname} is in use again.`,
    undo: (done) => () => void retire.go(done),
  },
);
function saved(id: number) {
  if (open.value === "new") void router.push({ name: "thread", params: { machine: id } });
  else say("The machine's description is saved.");
  open.value = null;
}
</script>

<template>
  <section class="panel stack" aria-labelledby="machines-title">
    <h2 id="machines-title">Machines</h2>
    <ul class="listed">
      <li v-for="m in machines" :key="m.id" class="one">
        <MachinePortrait
          :kind="m.spec.kind"
          :framed="m.spec.on_frame"
          :scale="m.spec.scale.kind"
          :removable-case="m.spec.removable_case"
          :has-gauge="m.spec.has_gauge" />
        <span
          ><strong>{{ m.spec.nickname }}</strong
          ><span class="soft line">{{ words(m) }}</span></span
        >
        <span class="acts">
          <Button
            :label="m.spec.retired ? 'Back into use' : 'Retire'"
            text
            severity="secondary"
            :aria-label="`${m.spec.retired ? 'Back into use' : 'Retire'}: ${m.spec.nickname}`"
            @click="retire.go(m)" />
          <Button label="Change" text :aria-label="`Change ${m.spec.nickname}`" @click="open = m.id" />
        </span>
      </li>
    </ul>
    <p v-if="retire.problem.value" class="field-error" role="alert">{{ retire.problem.value.message }}</p>
    <MachineForm v-if="open !== null" :key="open" :machine="edited" @saved="saved" @leave="open = null" />
    <Button v-else label="Another machine" outlined class="another" @click="open = 'new'" />
  </section>
</template>

<style scoped>
.line {
  display: block;
}
.one {
  display: grid;
  grid-template-columns: 9rem minmax(0, 1fr) auto;
  gap: 0.2rem 1rem;
  align-items: center;
}
@media (max-width: 600px) {
  .one {
    grid-template-columns: 6rem minmax(0, 1fr);
  }
  .acts {
    grid-column: 1 / -1;
    justify-self: end;
  }
}
.acts {
  display: flex;
}
.another {
  justify-self: start;
}
</style>
