<script setup lang="ts">
import { allTyped, begins, smallTyped, smallUnit, stitchTyped, stitchUnit, stretch } from "../../units";
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import InputText from "primevue/inputtext";
import { computed, reactive } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { useLine } from "../../api/queries";
import { numberIn } from "../../composables/fields";
import { useMachineId } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import { fixed } from "../../words";

/** How many trips through the eye a stretch of thread makes at this stitch length. */
const machine = useMachineId();
const { data: line } = useLine(machine);
const form = reactive({ stitch: begins.stitch(3), sandwich: begins.small(2) });
const other = reactive({ stitch: begins.stitch(2), pull: "100" });
const thread = computed<Schemas["Thread"]>(() => {
  const top = line.value?.setup.top?.[0];
  return {
    fiber: top?.fiber ?? "cotton",
    construction: top?.construction ?? "spun",
    value: top?.tex ?? 25,
    system: "tex",
  };
});
const { data, error } = useQuery({
  queryKey: computed(() => ["use", { ...form }, thread.value]),
  queryFn: async () =>
    answer(
      client.POST("/api/compute/thread-use", {
        body: {
          ...allTyped({
            stitch_length_mm: () => stitchTyped("stitch_length_mm", form.stitch),
            sandwich_mm: () => smallTyped("sandwich_mm", form.sandwich),
          }),
          stitched_meters: 100,
          bobbin: { class: "M", fill: 1, thread: thread.value },
        },
      }),
    ),
  placeholderData: keepPreviousData,
  retry: false,
});
const fields = computed(() => (error.value as Problem | null)?.fields ?? {});
const { data: wear, error: unworn } = useQuery({
  queryKey: computed(() => ["wear", { ...form }, { ...other }]),
  queryFn: async () =>
    answer(
      client.POST("/api/compute/wear", {
        body: allTyped({
          stitch_length_mm: () => stitchTyped("stitch_length_mm", other.stitch),
          sandwich_mm: () => smallTyped("sandwich_mm", form.sandwich),
          stitch_before_mm: () => stitchTyped("stitch_before_mm", form.stitch),
          sandwich_before_mm: () => smallTyped("sandwich_before_mm", form.sandwich),
          pull_share: () => numberIn("pull_share", other.pull) / 100,
        }),
      }),
    ),
  placeholderData: keepPreviousData,
  retry: false,
});
const wrong = computed(() => (unworn.value as Problem | null)?.fields ?? {});
</script>

<template>
  <section class="panel stack">
    <h2>Trips through the eye</h2>
    <div class="fields">
      <FieldBox :label="`Stitch length, ${stitchUnit()}`" :error="fields.stitch_length_mm"
        ><InputText v-model="form.stitch" inputmode="decimal"
      /></FieldBox>
      <FieldBox :label="`Sandwich, ${smallUnit()} thick`" :error="fields.sandwich_mm"
        ><InputText v-model="form.sandwich" inputmode="decimal"
      /></FieldBox>
    </div>
    <template v-if="data && !error">
      <p class="verdict">
        Each spot of the top thread passes the eye about {{ fixed(data.eye_passes) }} times before it is sewn in.
      </p>
      <p class="soft">
        Shorter stitches mean more passes. {{ stretch(100) }} of stitching takes {{ stretch(data.top_m) }} on top and as
        much below.
      </p>
    </template>
    <h3>What would wear it more, or less?</h3>
    <div class="fields">
      <FieldBox :label="`Stitches of, ${stitchUnit()}`" :error="wrong.stitch_length_mm"
        ><InputText v-model="other.stitch" inputmode="decimal"
      /></FieldBox>
      <FieldBox label="Top pull, % of now" :error="wrong.pull_share"
        ><InputText v-model="other.pull" inputmode="decimal"
      /></FieldBox>
    </div>
    <template v-if="wear && !unworn">
      <p class="verdict">{{ wear.text }}</p>
      <p class="soft">{{ fixed(wear.trips_before) }} trips become {{ fixed(wear.trips) }}. {{ wear.says }}</p>
    </template>
    <FiguresNote subject="bobbin" />
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.8rem;
}
</style>
