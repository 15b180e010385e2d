<script setup lang="ts">
import { mnTyped, pull, pulls, rangeTyped, forceUnit } from "../../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHas } from "../../composables/features";
import { useHere } from "../../composables/machine";
import { useNote, useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";

/** What the bobbin is set for, and the machine's own number: learned, taken from this reading, or typed. */
const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const here = useHere();
const PURPOSES: { value: Schemas["Purpose"]; name: string }[] = [
  { value: "ordinary", name: "ordinary" },
  { value: "delicate", name: "metallic or delicate" },
];
const low = ref("");
const high = ref("");
const purpose = useNote((chosen: Schemas["Purpose"]) =>
  answer(
    client.POST("/api/machines/{machine_id}/purpose", {
      ...here(),
      body: { kind: "bobbin_purpose", purpose: chosen, target: typedRange() },
    }),
  ),
);
const typedRange = () => (low.value || high.value ? rangeTyped(low.value, high.value) : null);
const chosen = computed({
  get: () => props.station.purpose,
  set: (value: Schemas["Purpose"]) => {
    low.value = high.value = "";
    void purpose.go(value);
  },
});
const number = ref("");
const take = useSend(
  (body: Schemas["MyNumber"]) => answer(client.PUT("/api/machines/{machine_id}/own-number", { ...here(), body })),
  {
    says: (range) =>
      range ? `The number is ${pull((range.low + range.high) / 2)}.` : "Learned from balanced stitches again.",
    then: () => (number.value = ""),
  },
);
const type = async () => {
  let value: number;
  try {
    value = mnTyped("value", number.value);
  } catch {
    return void take.go({ value: -1, unit: "mN" });
  }
  await take.go({ value, unit: "mN" });
};
const own = computed(() => props.station.own);
const has = useHas();
/** Who feels the bobbin has no numbers, unless one was weighed by the hang test. */
const numbers = computed(() => has("gauge") || !!(props.station.last || props.station.typed || own.value));
</script>

<template>
  <section class="panel stack" aria-labelledby="number-title">
    <h2 id="number-title">{{ numbers ? "What it should read" : "What it's set for" }}</h2>
    <p v-if="station.target">{{ pulls(station.target.low, station.target.high) }}: {{ station.target.origin }}.</p>
    <p v-if="station.purpose === 'bobbin_work'" class="soft">Set for bobbin work, as it was loaded.</p>
    <ToggleRow v-else v-model="chosen" label="Set for thread that is" :options="PURPOSES" />
    <form v-if="numbers && station.purpose !== 'ordinary'" class="row" @submit.prevent="purpose.go(station.purpose)">
      <FieldBox :label="`Its own range from, ${forceUnit()}`" :error="purpose.error('low')"
        ><InputText v-model="low" inputmode="decimal" class="short"
      /></FieldBox>
      <FieldBox :label="`to, ${forceUnit()}`" :error="purpose.error('high')"
        ><InputText v-model="high" inputmode="decimal" class="short"
      /></FieldBox>
      <Button type="submit" label="Save range" outlined class="low" />
    </form>
    <p v-if="own" class="soft">
      Your usual, from {{ own.readings }} balanced stitch-out{{ own.readings > 1 ? "s" : "" }}:
      <strong>{{ pull(own.mean_mn) }}</strong>, {{ pulls(own.low_mn, own.high_mn) }}.
    </p>
    <div class="row">
      <Button
        v-if="station.setup.reading && station.setup.reading.calmness !== 'fault' && station.purpose === 'ordinary'"
        :label="`Make ${pull(station.setup.reading.mean_mn)} my usual`"
        outlined
        @click="take.go({ value: station.setup.reading.mean_mn, unit: 'mN' })" />
      <Button
        v-if="station.typed"
        label="Learn it from balanced stitches"
        text
        @click="take.go({ value: null, unit: 'mN' })" />
    </div>
    <form v-if="numbers" class="row" @submit.prevent="type()">
      <FieldBox :label="`Or type it, ${forceUnit()}`" :error="take.error('value', 'low')"
        ><InputText v-model="number" inputmode="decimal" class="short"
      /></FieldBox>
      <Button type="submit" label="Save as usual" outlined class="low" />
    </form>
    <p v-if="purpose.problem.value?.lost" class="field-error" role="alert">{{ purpose.problem.value.message }}</p>
  </section>
</template>

<style scoped>
.short {
  width: 8rem;
}
.low {
  align-self: end;
}
</style>
