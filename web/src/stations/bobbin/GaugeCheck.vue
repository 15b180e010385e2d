<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { numberIn } from "../../composables/fields";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { FORCE_SAYS } from "../../units";
import { day } from "../../words";

/** The gauge itself, checked with a known weight: from then on its readings are corrected. */
const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const here = useHere();
const grams = ref("20");
const showed = ref("");
const unit = computed(() => (props.station.unit ? `, ${FORCE_SAYS[props.station.unit]}` : ""));
const open = ref(false);
const machine = useMachineId();
const { data: checks } = useQuery({
  queryKey: computed(() => ["gauge checks", machine.value]),
  queryFn: () =>
    answer(
      client.GET("/api/log", { params: { query: { machine: machine.value, kind: ["gauge_checked"], limit: 5 } } }),
    ),
  enabled: open,
});
const last = computed(() => checks.value?.entries.find((entry) => !entry.struck_at));
const check = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/gauge-check", {
        ...here(),
        body: { grams: numberIn("grams", grams.value), showed: numberIn("showed", showed.value) },
      }),
    ),
  { says: (noted) => `${noted.text}.`, then: () => (showed.value = "") },
);
</script>

<template>
  <details class="panel" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Is the gauge right?</summary>
    <div class="stack">
      <p v-if="last">{{ day(last.at) }}. {{ last.text }}.</p>
      <p class="soft">Hang a weight you know on the gauge: a coin, or a 20 g scale weight. Type what it shows.</p>
      <form class="row" @submit.prevent="check.go()">
        <FieldBox label="The weight, g" :error="check.error('grams')">
          <InputText v-model="grams" inputmode="decimal" class="short" />
        </FieldBox>
        <FieldBox :label="`The gauge shows${unit}`" :error="check.error('showed')">
          <InputText v-model="showed" inputmode="decimal" class="short" />
        </FieldBox>
        <Button type="submit" label="Save the check" outlined class="low" :loading="check.pending.value" />
      </form>
    </div>
  </details>
</template>

<style scoped>
.short {
  max-width: 8rem;
}
.low {
  align-self: end;
}
</style>
