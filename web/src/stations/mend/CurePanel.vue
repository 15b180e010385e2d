<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import type { Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useMachine, useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { optionalNumber } from "../../composables/fields";
import GradePicker from "../balance/GradePicker.vue";
import { useBack, useEnd } from "./incident";

/** The cause is found: its cure, the way to the station that does it, and the test look that closes the trouble. */
const props = defineProps<{ station: Schemas["MendStation"] }>();
const machine = useMachineId();
const { data: words } = useWords();
const item = useMachine();
const scale = computed(() => item.value?.spec.scale);
const cure = computed(() => props.station.cure);
const id = computed(() => props.station.incident?.id ?? 0);
const setup = computed(() => props.station.incident?.setup);
const place = computed(() => {
  const c = cure.value;
  if (!c?.station) return null;
  const query = { part: c.part, metric: c.metric ?? undefined, point: c.point ?? c.path_point ?? undefined };
  return { name: c.station, params: { machine: machine.value }, query };
});
const setting = ref("");
watch(
  () => props.station.setting,
  (last) => (setting.value ||= last == null ? "" : String(last)),
  { immediate: true },
);
const grade = ref<number | null>(null);
const back = useBack(id);
const end = useEnd(id);
/** Whether to sew on without a test: it would take longer than it should save, and none was stitched all the same. */
const sewOn = computed(() => props.station.proof?.pays === false && grade.value === null);
function tested(outcome: Schemas["Outcome"]) {
  const look = grade.value === null ? {} : { grade: grade.value, setting: optionalNumber("setting", setting.value) };
  return end.go({ outcome, tested: !sewOn.value, ...look });
}
</script>

<template>
  <div v-if="cure" class="station">
    <section class="panel stack" aria-live="polite">
      <p class="soft">Found: {{ cure.name.toLowerCase() }}</p>
      <CautionList :cautions="station.cautions" />
      <p class="answer ask" data-answer>{{ cure.text }}</p>
      <RouterLink v-if="place" :to="place" class="go">{{ cure.words }}</RouterLink>
      <p v-if="sewOn" class="verdict">Then sew on, and check the first few inches.</p>
      <template v-else>
        <p class="soft">
          {{
            place
              ? "Then come back here, stitch a test on a scrap of the same sandwich"
              : "Stitch a test on a scrap of the same sandwich"
          }}, and say how it went. {{ station.proof?.says }}
        </p>
        <p class="verdict">Is the trouble gone?</p>
      </template>
      <div class="answers">
        <Button
          :label="sewOn ? 'Done, sew on' : 'Gone, it runs'"
          size="large"
          :disabled="end.pending.value"
          @click="tested('cured')" />
        <Button label="Still there" size="large" outlined :disabled="end.pending.value" @click="tested('not_cured')" />
      </div>
      <p v-if="sewOn" class="soft">{{ station.proof?.says }}</p>
      <p v-if="end.problem.value && !end.error('setting')" class="field-error" role="alert">
        {{ end.problem.value.message }}
      </p>
      <Button label="Back" text class="left" :disabled="back.isPending.value" @click="back.mutate(undefined)" />
    </section>
    <section class="panel stack">
      <h2>{{ sewOn ? "Or test it: how does the line look?" : "How the test line looks, if you want it on record" }}</h2>
      <FieldBox v-if="scale" :label="`At what setting, ${scale.low} to ${scale.high}`" :error="end.error('setting')"
        ><InputText v-model="setting" inputmode="decimal"
      /></FieldBox>
      <GradePicker v-model="grade" :grades="words?.grades ?? []" :top="setup?.top?.[0]" :bobbin="setup?.bobbin" />
    </section>
  </div>
</template>

<style scoped>
.ask {
  font-size: var(--type-large);
  line-height: 1.15;
}
.go {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-height: 60px;
  padding: 0 1.2rem;
  background: var(--indigo);
  color: #fff;
  border-radius: 4px;
  font-weight: 650;
  font-size: var(--type-lead);
  text-decoration: none;
  justify-self: start;
}
.answers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0.6rem;
}
.answers > * {
  min-height: 64px;
}
.left {
  justify-self: start;
  padding-left: 0;
}
</style>
