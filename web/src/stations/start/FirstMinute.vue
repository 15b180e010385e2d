<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, nextTick, reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useSend } from "../../composables/send";
import { useDraft } from "../../composables/draft";
import MachinePicture from "../../diagrams/MachinePicture.vue";
import MachinePortrait from "../../diagrams/MachinePortrait.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { usualScale } from "../../machines";
import { choice } from "../../units";

/** The first machine, a question at a time, each with its pictures and a way to say that one does not know. */
const emit = defineEmits<{ saved: [id: number] }>();
type Picture = InstanceType<typeof MachinePicture>["$props"]["what"];
/** What it is quilted on, drawn as the whole machine. */
const HEADS = {
  home: { kind: "home", framed: null },
  sit_down: { kind: "longarm", framed: false },
  longarm: { kind: "longarm", framed: true },
} as const;
type Head = keyof typeof HEADS;
const headOf = (picture: string) => (picture in HEADS ? HEADS[picture as Head] : null);
interface Choice {
  picture: Picture | Head;
  name: string;
  take: () => void;
  taken: () => boolean;
}
interface Step {
  ask: string;
  why: string;
  choices: Choice[];
}
const form = reactive({
  step: 0,
  kind: "" as Schemas["MachineKind"] | "",
  frame: null as boolean | null,
  scale: "" as Schemas["ScaleKind"] | "",
  case: undefined as boolean | null | undefined,
  gauge: undefined as boolean | null | undefined,
  unit: "gf" as Schemas["ForceUnit"],
  system: undefined as string | undefined,
  lengths: "" as typeof choice.lengths | "",
  name: "",
});
const draft = useDraft("first minute", form);
const pick = <K extends keyof typeof form>(
  picture: Picture | Head,
  name: string,
  ...set: [K, (typeof form)[K]][]
): Choice => ({
  picture,
  name,
  take: () => set.forEach(([field, value]) => (form[field] = value)),
  taken: () => set.every(([field, value]) => form[field] === value),
});
const UNKNOWN = "I don't know";
const steps = computed<Step[]>(() => [
  {
    ask: "What do you quilt on?",
    why: "Needle, bobbin and where the tension begins depend on it.",
    choices: [
      pick("home", "a domestic machine", ["kind", "home"], ["frame", null]),
      pick("sit_down", "a sit-down longarm, in a table", ["kind", "longarm"], ["frame", false]),
      pick("longarm", "a longarm on a frame", ["kind", "longarm"], ["frame", true]),
    ],
  },
  {
    ask: "How is the top tension set?",
    why: "Settings are saved and advised as you see them on the machine. Its numbers can be changed under Workshop.",
    choices: [
      pick("dial", "a dial with numbers", ["scale", "dial"]),
      pick("turns", "a knob without numbers", ["scale", "turns"]),
      pick("readout", "a number on a display", ["scale", "readout"]),
    ],
  },
  {
    ask: "Where does the bobbin sit?",
    why: "A case comes out to be felt and measured. A drop-in bobbin is judged by its stitch.",
    choices: [
      pick("case", "in a case to take out", ["case", true]),
      pick("drop_in", "it drops in", ["case", false], ["gauge", false]),
      pick("unknown", UNKNOWN, ["case", null]),
    ],
  },
  ...(form.case === false
    ? []
    : [
        {
          ask: "Do you measure the bobbin with a gauge?",
          why: "Without one you feel it by hand, and that's enough.",
          choices: [
            pick("no_gauge", "no, by hand", ["gauge", false]),
            pick("gauge", "a gauge in grams", ["gauge", true], ["unit", "gf"]),
            pick("gauge", "a gauge in mN", ["gauge", true], ["unit", "mN"]),
            pick("gauge", "a gauge in cN", ["gauge", true], ["unit", "cN"]),
            pick("gauge", "a gauge, no idea in what", ["gauge", true], ["unit", null]),
          ],
        },
      ]),
  {
    ask: "Which needles does it take?",
    why: "It's in the machine's manual, and on the packet of needles that came with it.",
    choices: [
      pick("flat_shank", "130/705 H, with a flat side", ["system", "130/705 H"]),
      pick("round_shank", "134 (DPx5), round", ["system", "134"]),
      pick("unknown", UNKNOWN, ["system", ""]),
    ],
  },
  {
    ask: "Which units do you think in?",
    why: "This screen uses them. You can change it at any time.",
    choices: [
      pick("unknown", "inches and yards", ["lengths", "inch"]),
      pick("unknown", "millimeters and meters", ["lengths", "metric"]),
    ],
  },
]);
const step = computed(() => steps.value[form.step]);
const title = ref<HTMLElement>();
/** Where the seam ends, and what share of it is sewn. */
const LAST = 630;
const sewn = computed(() => (100 * form.step) / steps.value.length);
async function go(by: number) {
  form.step = Math.max(0, Math.min(steps.value.length, form.step + by));
  await nextTick();
  title.value?.focus();
}
function take(one: Choice) {
  one.take();
  void go(1);
}
const save = useSend(
  async () =>
    answer(
      client.POST("/api/machines", {
        body: {
          nickname: form.name,
          kind: form.kind || "home",
          on_frame: form.frame,
          scale: usualScale(form.scale || "dial", form.kind || "home"),
          needle_system: form.system ?? "",
          gauge_unit: form.unit,
          has_gauge: form.case === false ? null : (form.gauge ?? null),
          removable_case: form.case ?? null,
        },
      }),
    ),
  {
    then: (machine) => {
      if (form.lengths) choice.lengths = form.lengths;
      draft.drop();
      emit("saved", machine.id);
    },
  },
);
</script>

<template>
  <section class="panel stack first" aria-live="polite">
    <!-- The thread stitches itself along with the answers. -->
    <svg viewBox="0 0 640 46" class="seam" aria-hidden="true">
      <path d="M4 42 12 8h14l8 34Z" class="cone" />
      <path d="M19 8C30-4 62 2 76 30" class="loose" />
      <path :d="`M76 30H${LAST}`" class="holes" />
      <path :d="`M76 30H${LAST}`" class="sewn" :style="{ clipPath: `inset(-20px ${100 - sewn}% -20px 0)` }" />
    </svg>
    <p class="soft">
      <template v-if="step">Question {{ form.step + 1 }} of {{ steps.length + 1 }}</template
      ><template v-else>The last question</template>
    </p>
    <template v-if="step">
      <h2 ref="title" class="answer" tabindex="-1" data-answer>{{ step.ask }}</h2>
      <p>{{ step.why }}</p>
      <div class="choices">
        <button
          v-for="c in step.choices"
          :key="c.name"
          type="button"
          :aria-label="c.name"
          :aria-pressed="c.taken()"
          @click="take(c)">
          <MachinePortrait v-if="headOf(c.picture)" v-bind="headOf(c.picture)!" />
          <MachinePicture v-else-if="step.ask !== 'Which units do you think in?'" :what="c.picture as Picture" />
          {{ c.name }}
        </button>
      </div>
    </template>
    <form v-else class="stack" @submit.prevent="save.go()">
      <h2 ref="title" class="answer" tabindex="-1" data-answer>What do you call it?</h2>
      <p>Everything you measure is saved under this name.</p>
      <FieldBox :name="form.name" label="Its name" :error="save.error('nickname')"
        ><InputText v-model="form.name" autofocus placeholder="the name you use for it"
      /></FieldBox>
      <p v-if="save.problem.value && !save.error('nickname')" class="field-error" role="alert">
        {{ save.problem.value.message }}
      </p>
      <Button type="submit" label="That's my machine" size="large" :loading="save.pending.value" />
    </form>
    <div class="foot">
      <span class="row">
        <Button v-if="form.step" label="Back" text @click="go(-1)" />
        <Button v-if="step" label="Skip this" text @click="go(1)" />
      </span>
      <MachinePortrait
        v-if="form.kind && form.step"
        class="portrait"
        :kind="form.kind"
        :framed="form.frame"
        :scale="form.scale"
        :removable-case="form.case"
        :has-gauge="form.gauge"
        :name="form.name" />
    </div>
  </section>
</template>

<style scoped>
.first {
  min-height: 27rem;
}
.answer {
  font-size: var(--type-large);
  outline: none;
}
.seam {
  display: block;
  width: 100%;
  max-height: 46px;
}
.cone {
  fill: #f0b429;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.loose,
.sewn,
.holes {
  fill: none;
  stroke: var(--teal);
  stroke-width: 4;
  stroke-linecap: round;
}
.sewn {
  stroke-dasharray: 18 9;
  transition: clip-path 0.5s ease-out;
}
.holes {
  stroke: var(--ink-soft);
  stroke-width: 4;
  stroke-dasharray: 0.1 26.9;
}
@media (prefers-reduced-motion: reduce) {
  .sewn {
    transition: none;
  }
}
.foot {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: start;
  gap: 0.5rem 1rem;
}
.portrait {
  max-width: 17rem;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(10.5rem, 1fr));
  gap: 0.8rem;
}
.choices button {
  display: grid;
  gap: 0.5rem;
  align-content: center;
  min-height: 8.5rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  padding: 0.8rem;
  font-size: var(--type-lead);
  font-weight: 600;
}
.choices button:hover {
  border-color: var(--marigold);
}
.choices button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
@media (max-width: 560px) {
  .choices {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
