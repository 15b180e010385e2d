<script setup lang="ts">
import Button from "primevue/button";
import { computed, onMounted, ref } from "vue";
import { useRoute } from "vue-router";
import type { Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useMachineChange, useSend, useTakeBack } from "../../composables/send";
import { useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import ClockPanel from "../../parts/ClockPanel.vue";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import { day, fixed } from "../../words";
import FittingForm from "./FittingForm.vue";
import RetireForm from "./RetireForm.vue";
import OwnSays from "../../parts/OwnSays.vue";

/** The needle that is in: its hours, and what comes next. */
const props = defineProps<{ station: Schemas["NeedleStation"] }>();
const metric = defineModel<number>("metric", { required: true });
const point = defineModel<Schemas["Point"]>("point", { required: true });

const PLAUSIBLE = { likely: "likely here", possible: "possible here", unlikely: "not likely here" };
const machine = useMachineId();
const needle = computed(() => props.station.setup.needle);
const life = computed(() => props.station.life);
/** The first, power off, stands above the form; here are the others. */
const others = computed(() => props.station.pairing?.cautions.slice(1) ?? []);

/** Sent here to fit a certain needle: the form is what the hand came for. */
const route = useRoute();
const fitting = ref<HTMLElement>();
onMounted(() => route.query.metric && fitting.value?.scrollIntoView({ block: "center" }));

/** The usual way: the old one out and the one on show in, noted by one tap and taken back by one. */
const retiring = ref<InstanceType<typeof RetireForm>>();
const fitted = ref<InstanceType<typeof FittingForm>>();
const takeBack = useTakeBack();
const { data: words } = useWords();
const next = computed(() => {
  const size = words.value?.sizes.find((s) => s.metric === metric.value);
  return size ? `${size.metric}/${size.american} ${point.value}` : "";
});
const swap = useSend(
  async () => {
    const [retire, fit] = [retiring.value, fitted.value];
    if (!retire || !fit) throw new Error("the forms are not on the page");
    const out = await retire.post();
    return { says: retire.says(out), out: out.id, in: (await fit.post()).id };
  },
  {
    says: (done) => `${done.says} ${next.value} is in.`,
    undo: (done) => () => void takeBack.go([done.out, done.in]),
  },
);

const machineChange = useMachineChange(machine);
const schools = computed(() => props.station.life_schools.map((s) => ({ value: s.value, name: s.text })));
const school = computed({
  get: () => props.station.life_school,
  set: (life_school) => void machineChange.go({ life_school }),
});
</script>

<template>
  <div class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <template v-if="needle && life">
          <p class="soft">
            {{ needle.metric }}/{{ needle.american }} {{ needle.point }}, {{ needle.finish }}, in since
            {{ day(needle.fitted_at) }}
          </p>
          <p class="answer" data-answer>{{ fixed(life.hours, 1) }} <small>h stitched</small></p>
          <svg v-if="life.life_hours" viewBox="0 0 600 34" role="img" :aria-label="life.text">
            <rect width="600" height="20" y="4" class="track" />
            <rect
              :width="Math.min(600, (600 * life.hours) / (life.life_hours * 1.4))"
              height="20"
              y="4"
              :class="life.due" />
            <path :d="`M${600 / 1.4} 0v30`" class="mark" />
          </svg>
          <p class="verdict" :class="life.due">{{ life.text }}</p>
          <p v-if="station.other_system" class="verdict overdue" role="alert">{{ station.other_system }}</p>
          <p v-if="station.one_in" class="verdict">{{ station.one_in }}</p>
          <p v-if="station.fitted_fit">This thread {{ station.fitted_fit.says.replace(/\.$/, "") }}.</p>
        </template>
        <template v-else>
          <p class="answer ask">No needle on record</p>
          <p class="verdict">
            Look at the needle, or fit a new one, and note it. A used needle of unknown hours is not worth refitting.
          </p>
        </template>
        <p v-if="needle && station.steps[0]" class="danger">{{ station.steps[0] }}</p>
        <RetireForm v-if="needle" ref="retiring">
          <Button v-if="next" :label="`Out, ${next} in`" :loading="swap.pending.value" @click="swap.go()" />
        </RetireForm>
        <p v-if="swap.problem.value" class="field-error" role="alert">{{ swap.problem.value.message }}</p>
      </section>
      <ClockPanel />
      <OwnSays station="needle" feeds />
      <section v-if="station.room.length" class="panel stack">
        <h2>If the thread</h2>
        <div v-for="r in station.room" :key="r.trouble" class="room">
          <strong>{{ r.trouble === "frays" ? "frays" : "snaps clean" }}</strong>
          <span>{{ r.text }}</span>
          <button type="button" @click="[metric, point] = [r.metric, r.point]">
            {{ r.metric }}/{{ r.american }} {{ r.point }}
          </button>
          <span class="soft">{{ PLAUSIBLE[r.plausible] }}</span>
        </div>
      </section>
    </div>
    <div class="hands">
      <section class="panel stack">
        <h2>Fit a needle</h2>
        <p v-if="!needle && station.steps[0]" class="danger">{{ station.steps[0] }}</p>
        <div ref="fitting"><FittingForm ref="fitted" v-model:metric="metric" v-model:point="point" /></div>
        <ol class="steps">
          <li v-for="s in station.steps.slice(1)" :key="s">{{ s }}</li>
        </ol>
        <CautionList :cautions="others" />
      </section>
      <section class="panel stack">
        <ChoiceBox v-model="school" label="When to change it" :options="schools" />
        <FiguresNote subject="needle" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.track {
  fill: var(--linen);
  stroke: var(--steel);
}
.fresh {
  fill: var(--teal);
  color: var(--teal);
}
.nearly,
.due {
  fill: var(--marigold);
  color: var(--amber);
}
.overdue {
  fill: var(--vermilion);
  color: var(--vermilion);
}
.mark {
  stroke: var(--ink);
  stroke-width: 3;
}
.ask {
  font-size: var(--type-large);
}
.room {
  display: grid;
  grid-template-columns: 6.5rem 1fr auto;
  gap: 0.2rem 0.8rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding-top: 0.4rem;
}
.room .soft {
  grid-column: 2;
}
.room button {
  min-height: 44px;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  font-weight: 620;
}
.steps {
  margin: 0;
  padding-left: 1.4rem;
  display: grid;
  gap: 0.35rem;
  font-size: 1rem;
}
.danger {
  font-weight: 700;
  color: var(--amber);
}
@media (max-width: 500px) {
  .room {
    grid-template-columns: 1fr;
  }
  .room .soft {
    grid-column: 1;
  }
}
@media (max-width: 900px) {
  /* The needle that is in, then the hand's work; what else there is to know comes after. */
  .station {
    display: flex;
    flex-direction: column;
  }
  .station > div:first-child {
    display: contents;
  }
  .station > div:first-child > :not(:first-child) {
    order: 2;
  }
  .hands {
    order: 1;
  }
}
</style>
