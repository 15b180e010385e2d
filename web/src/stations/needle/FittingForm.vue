<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useNeedleDrawer, useWords } from "../../api/queries";
import { useHere, useMachine, useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import MomentBox from "../../parts/MomentBox.vue";
import { useNote } from "../../composables/send";
import { fixed } from "../../words";

/** Notes the needle that was fitted; starts with the one on show. */
const metric = defineModel<number>("metric", { required: true });
const point = defineModel<Schemas["Point"]>("point", { required: true });

const machine = useMachineId();
const { data: words } = useWords();
const { data: drawer } = useNeedleDrawer(machine);
const finish = ref<Schemas["NeedleFinish"]>("steel");
const at = ref<string>();
const item = useMachine();
const takes = computed(() => item.value?.spec.needle_system ?? "");
const system = ref<string | null>(null);
const sizes = computed(() =>
  (words.value?.sizes ?? []).map((s) => ({ value: s.metric, name: `${s.metric}/${s.american}` })),
);
const points = computed(() => (words.value?.points ?? []).map((p) => ({ value: p.value, name: p.name })));
const finishes = computed(
  () => (words.value?.needle_finishes ?? []) as { value: Schemas["NeedleFinish"]; name: string }[],
);
/** A packet of the drawer that holds this size and point, so that the stock goes down. */
const packet = computed(() =>
  drawer.value?.packets.find(
    (p) =>
      p.left > 0 &&
      p.fits &&
      p.spec.metric === metric.value &&
      p.spec.point === point.value &&
      p.spec.finish === finish.value,
  ),
);

const here = useHere();
const post = () =>
  answer(
    client.POST("/api/machines/{machine_id}/needle", {
      ...here(),
      body: {
        metric: metric.value,
        american: words.value?.sizes.find((s) => s.metric === metric.value)?.american ?? 0,
        point: point.value,
        finish: finish.value,
        system: system.value ?? takes.value,
        packet: packet.value?.id,
        at: at.value,
      },
    }),
  );
const fit = useNote(post);
const { error } = fit;
defineExpose({ post });
/** A part-used needle goes back in as it is: one tap. */
const refit = useNote((slot: Schemas["Slotted"]) =>
  answer(
    client.POST("/api/machines/{machine_id}/needle", {
      ...here(),
      body: {
        metric: slot.metric,
        american: words.value?.sizes.find((s) => s.metric === slot.metric)?.american ?? 0,
        point: slot.point,
        slot: slot.slot,
        at: at.value,
      },
    }),
  ),
);
</script>

<template>
  <form @submit.prevent="fit.go()">
    <section v-if="drawer?.slots.length" class="wide slots" aria-label="Part-used needles">
      <p v-for="s in drawer.slots" :key="s.slot">
        <span
          >Slot {{ s.slot }}: <strong>{{ s.needle }}</strong>, {{ fixed(s.hours, 1) }} h on it</span
        >
        <Button
          label="Back in"
          outlined
          :aria-label="`Back in: the needle of slot ${s.slot}`"
          :loading="refit.pending.value"
          @click="refit.go(s)" />
      </p>
      <p v-if="refit.problem.value" class="field-error" role="alert">{{ refit.problem.value.message }}</p>
    </section>
    <ChoiceBox v-model="metric" label="Size" :options="sizes" :error="error('american') ?? error('metric')" />
    <ChoiceBox v-model="point" label="Point" :options="points" :error="error('point')" />
    <p v-if="packet" class="soft wide">Out of the packet in the drawer: {{ packet.left }} left before this one.</p>
    <p v-if="error('packet') || fit.problem.value?.lost" class="field-error wide">{{ fit.problem.value?.message }}</p>
    <Button type="submit" data-new class="wide" label="Note it as fitted" :loading="fit.pending.value" />
    <details class="wide" :open="!!(error('system') || error('at'))">
      <summary>Finish, system, and when</summary>
      <div class="pairs">
        <ChoiceBox v-model="finish" label="Finish" :options="finishes" />
        <FieldBox label="Needle system" :error="error('system')">
          <InputText :model-value="system ?? takes" @update:model-value="system = $event ?? ''" />
        </FieldBox>
        <MomentBox v-model="at" label="Fitted" :error="error('at')" />
      </div>
    </details>
  </form>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.8rem;
}
.slots p {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 0.8rem;
}
.wide {
  grid-column: 1 / -1;
}
</style>
