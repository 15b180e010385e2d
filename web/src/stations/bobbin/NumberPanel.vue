<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { numberIn, numbersIn } from "../../composables/fields";
import { useHere } from "../../composables/machine";
import { useNote, useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { fixed } from "../../words";

/** What the bobbin is set for, and the machine's own number: learned, taken from this reading, or typed. */
const props = defineProps<{ station: Schemas["BobbinStation"]; unit: Schemas["ForceUnit"] }>();
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
const typedRange = () => (low.value || high.value ? numbersIn({ low: low.value, high: high.value }) : null);
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
      range ? `The number is ${fixed((range.low + range.high) / 2)} mN.` : "Learned from balanced stitches again.",
    then: () => (number.value = ""),
  },
);
const type = async () => {
  let value: number;
  try {
    value = numberIn("value", number.value);
  } catch {
    return void take.go({ value: -1, unit: props.unit });
  }
  await take.go({ value, unit: props.unit });
};
const own = computed(() => props.station.own);
</script>

<template>
  <section class="panel stack" aria-labelledby="number-title">
    <h2 id="number-title">What it should read</h2>
    <p v-if="station.purpose === 'bobbin_work'" class="soft">Set for bobbin work, as it was loaded.</p>
    <ToggleRow v-else v-model="chosen" label="Set for thread that is" :options="PURPOSES" />
    <form v-if="station.purpose !== 'ordinary'" class="row" @submit.prevent="purpose.go(station.purpose)">
      <FieldBox label="Its own range from, mN" :error="purpose.error('low')"
        ><InputText v-model="low" inputmode="decimal" class="short"
      /></FieldBox>
      <FieldBox label="to, mN" :error="purpose.error('high')"
        ><InputText v-model="high" inputmode="decimal" class="short"
      /></FieldBox>
      <Button type="submit" label="Keep this range" outlined class="low" :disabled="!low && !high" />
    </form>
    <p v-if="own" class="soft">
      This machine's own by {{ own.readings }} balanced stitch-out{{ own.readings > 1 ? "s" : "" }}:
      <strong>{{ fixed(own.mean_mn) }} mN</strong>, {{ fixed(own.low_mn) }} to {{ fixed(own.high_mn) }}.
    </p>
    <div class="row">
      <Button
        v-if="station.setup.reading && station.purpose === 'ordinary'"
        :label="`Take ${fixed(station.setup.reading.mean_mn)} mN as my number`"
        outlined
        @click="take.go({ value: station.setup.reading.mean_mn, unit: 'mN' })" />
      <Button
        v-if="station.typed"
        label="Learn it from balanced stitches"
        text
        @click="take.go({ value: null, unit: 'mN' })" />
    </div>
    <form class="row" @submit.prevent="type()">
      <FieldBox :label="`Or type it, ${unit}`" :error="take.error('value', 'low')"
        ><InputText v-model="number" inputmode="decimal" class="short"
      /></FieldBox>
      <Button type="submit" label="That is my number" outlined class="low" :disabled="!number" />
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
