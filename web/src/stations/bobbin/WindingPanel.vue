<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import {
  allTyped,
  begins,
  sideTyped,
  sideUnit,
  smallTyped,
  smallUnit,
  stitchTyped,
  stitchUnit,
  stretch,
} from "../../units";
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import InputText from "primevue/inputtext";
import { computed, reactive } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useHere, useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import OnBobbin from "../../parts/OnBobbin.vue";
import { choices, percent, whole } from "../../words";

/** What is on a bobbin, how many the quilt takes, and how far today's still goes. */
defineProps<{ station: Schemas["BobbinStation"] }>();
const machine = useMachineId();
const { data: words } = useWords();
const form = reactive({
  /** Left out, it is that of the machine, or of the case that is in. */
  bobbin_class: "own" as Schemas["BobbinClass"] | "own",
  stitch: begins.stitch(3),
  /** Left empty, it is what lies under the needle. */
  sandwich: "",
  width: begins.side(1.5),
  height: begins.side(2),
  apart: begins.small(15),
});
const classes = computed(() => [
  { value: "own" as const, name: "that of this machine" },
  ...choices<Schemas["BobbinClass"]>(words.value?.bobbin_classes),
]);
useDraft("winding", form);
const here = useHere();
const { data: plan, error: planError } = useQuery({
  queryKey: computed(() => ["plan", machine.value, { ...form }]),
  queryFn: async () => {
    const { bobbin_class, stitch, sandwich, width, height, apart } = form;
    const numbers = allTyped({
      stitch_length_mm: () => stitchTyped("stitch_length_mm", stitch),
      quilt_width_m: () => sideTyped("quilt_width_m", width),
      quilt_height_m: () => sideTyped("quilt_height_m", height),
      lines_apart_mm: () => smallTyped("lines_apart_mm", apart),
    });
    const thick = sandwich.trim() ? allTyped({ sandwich_mm: () => smallTyped("sandwich_mm", sandwich) }) : {};
    const body = { bobbin_class: bobbin_class === "own" ? null : bobbin_class, ...numbers, ...thick };
    return answer(client.POST("/api/machines/{machine_id}/winding-plan", { ...here(), body }));
  },
  placeholderData: keepPreviousData,
  retry: false,
});
const fields = computed(() => (planError.value as Problem | null)?.fields ?? {});
</script>

<template>
  <div class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <template v-if="plan && !planError">
          <p class="soft">{{ station.setup.bobbin?.name }}: for this quilt</p>
          <p class="answer" data-answer>
            {{ plan.bobbins }} <small>bobbin{{ plan.bobbins > 1 ? "s" : "" }}</small>
          </p>
          <p class="verdict">
            One sews about {{ stretch(plan.stitched_m_per_bobbin) }}: {{ stretch(plan.meters) }} of thread,
            {{ whole(plan.stitches) }} stitches{{ plan.fill < 1 ? `, ${percent(plan.fill)} full` : "" }}.
          </p>
          <p>{{ plan.how }}</p>
          <p class="soft">
            {{ stretch(plan.quilt_stitched_m) }} of stitching, {{ stretch(plan.quilt_thread_m) }} of thread above and as
            much below.
          </p>
        </template>
        <p v-else class="verdict">
          {{ fields.bobbin_class ?? "Type the quilt's size and how far apart the lines are." }}
        </p>
        <FiguresNote subject="bobbin" />
      </section>
      <OnBobbin />
    </div>
    <div>
      <section class="panel">
        <div class="fields">
          <ChoiceBox v-model="form.bobbin_class" label="Bobbin class" :options="classes" />
          <FieldBox :label="`Lines apart, ${smallUnit()}`" :error="fields.lines_apart_mm"
            ><InputText v-model="form.apart" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Quilt width, ${sideUnit()}`" :error="fields.quilt_width_m"
            ><InputText v-model="form.width" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Quilt height, ${sideUnit()}`" :error="fields.quilt_height_m"
            ><InputText v-model="form.height" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Stitch length, ${stitchUnit()}`" :error="fields.stitch_length_mm"
            ><InputText v-model="form.stitch" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Sandwich, ${smallUnit()} thick`" :error="fields.sandwich_mm"
            ><InputText v-model="form.sandwich" placeholder="as it is under the needle" inputmode="decimal"
          /></FieldBox>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.8rem;
  align-items: end;
}
</style>
