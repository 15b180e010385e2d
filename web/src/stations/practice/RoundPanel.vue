<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, onUnmounted, ref, watch } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { numberIn } from "../../composables/fields";
import { useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { LiveTrace, openGauge, type Sample } from "../bobbin/liveTrace";
import TraceCanvas from "../bobbin/TraceCanvas.vue";
import DrawnLine from "./DrawnLine.vue";

/** A round of practice, whichever exercise: the question, what can be done, and what came of the last move. */
const props = defineProps<{ round: Schemas["Round"]; title: string }>();
const emit = defineEmits<{ moved: [round: Schemas["Round"]]; again: []; leave: [] }>();
const shown = computed(() => props.round.shown);
const move = useSend(
  (made: Schemas["PracticeMove"]) =>
    answer(
      client.POST("/api/practice/{round_id}/moves", { params: { path: { round_id: props.round.id } }, body: made }),
    ),
  { then: (round) => emit("moved", round) },
);
const setting = ref("");
watch(
  () => shown.value.setting,
  (at) => (setting.value = at == null ? "" : String(at)),
  { immediate: true },
);
function turn(steps: number) {
  const { low, high, by, setting: at } = shown.value;
  const from = Number(setting.value) || at || 0;
  setting.value = String(+Math.min(high ?? 0, Math.max(low ?? 0, from + steps * (by ?? 1))).toFixed(3));
}
/** What was typed and is no number; nothing is sent then. */
const mistyped = ref("");
function stitch() {
  mistyped.value = "";
  try {
    void move.go({ choice: "", setting: numberIn("setting", setting.value), taps: [] });
  } catch (problem) {
    mistyped.value = (problem as Problem).message;
  }
}
const taps = ref<number[]>([]);
const trace = new LiveTrace();
const band = computed(() => ({ low: shown.value.low ?? 0, high: shown.value.high ?? 0 }));
let gauge: WebSocket | null = null;
/** The gauge beside the hand: what it shows is drawn as it comes. Without it the pull counts all the same. */
function takeHold() {
  letGo();
  trace.clear();
  const opened = openGauge(`hand?mean_mn=${(band.value.low + band.value.high) / 2}`);
  opened.onmessage = (event) => trace.add((JSON.parse(event.data as string) as { samples: Sample[] }).samples);
  opened.onopen = () => taps.value.forEach((at) => opened.send(JSON.stringify({ tap: at })));
  gauge = opened;
}
function letGo() {
  gauge?.close();
  gauge = null;
}
onUnmounted(letGo);
function tap() {
  if (!taps.value.length) takeHold();
  const now = performance.now() / 1000;
  taps.value.push(now);
  if (gauge?.readyState === WebSocket.OPEN) gauge.send(JSON.stringify({ tap: now }));
  if (taps.value.length < (shown.value.taps ?? 0)) return;
  const begin = taps.value[0] ?? 0;
  const made = taps.value.map((at) => +(at - begin).toFixed(4));
  taps.value = [];
  // What comes in after the last tap is no longer this pull.
  setTimeout(letGo, 150);
  void move.go({ choice: "", taps: made });
}
/** A key that is held down is one tap. */
function keyed(event: KeyboardEvent) {
  if (!event.repeat) tap();
}
/** A screen reader presses without pointer or key. */
function spoken(event: MouseEvent) {
  if (event.detail === 0) tap();
}
const problem = computed(() => move.problem.value);
</script>

<template>
  <div class="station" :class="{ wide: shown.picture }">
    <div>
      <section class="panel stack" aria-live="polite">
        <p
          v-if="shown.feedback && !round.over"
          class="verdict said"
          :class="{ right: shown.right, wrong: shown.right === false }">
          {{ shown.feedback }}
        </p>
        <p class="soft">
          {{ title }}, level {{ round.level
          }}<template v-if="shown.steps && !round.over">: {{ shown.step }} of {{ shown.steps }}</template>
        </p>
        <template v-if="round.over">
          <p class="answer" data-answer>{{ Math.round(shown.score ?? 0) }} <small>of 100</small></p>
          <p v-for="line in shown.result" :key="line" class="verdict">{{ line }}</p>
          <p v-if="shown.feedback" class="soft">{{ shown.feedback }}</p>
          <div class="row">
            <Button label="Another round" size="large" @click="emit('again')" />
            <Button label="Back to practice" text @click="emit('leave')" />
          </div>
        </template>
        <template v-else>
          <p class="answer ask" data-answer>{{ shown.ask }}</p>
          <p v-for="line in shown.about" :key="line" class="verdict">{{ line }}</p>
          <DrawnLine v-if="shown.picture" :picture="shown.picture" />
          <div v-if="shown.takes === 'setting'" class="setting">
            <Button label="−" outlined aria-label="A step lower" @click="turn(-1)" />
            <FieldBox label="Stitch at" :error="mistyped || move.error('setting')"
              ><InputText v-model="setting" inputmode="decimal"
            /></FieldBox>
            <Button label="+" outlined aria-label="A step higher" @click="turn(1)" />
            <Button label="Stitch" size="large" :loading="move.pending.value" @click="stitch()" />
          </div>
          <template v-else-if="shown.takes === 'taps'">
            <TraceCanvas :trace="trace" :running="taps.length > 0" :target="band" close />
            <button
              type="button"
              class="tap"
              @pointerdown.prevent="tap"
              @keydown.enter.prevent="keyed"
              @keydown.space.prevent="keyed"
              @click="spoken">
              {{ taps.length ? `${taps.length} of ${shown.taps}` : "Tap" }}
            </button>
          </template>
          <div class="choices">
            <button
              v-for="c in shown.choices"
              :key="c.value"
              type="button"
              :disabled="move.pending.value"
              @click="move.go({ choice: c.value, taps: [] })">
              {{ c.name }} <span v-if="c.note" class="soft">{{ c.note }}</span>
            </button>
          </div>
          <Button label="Leave this round for later" text class="later" @click="emit('leave')" />
        </template>
        <p v-if="problem && !Object.keys(problem.fields).includes('setting')" class="field-error" role="alert">
          {{ problem.message }}
        </p>
      </section>
    </div>
    <div>
      <section v-if="shown.last" class="panel stack">
        <h2>The last one</h2>
        <DrawnLine :picture="shown.last" />
      </section>
      <section v-if="shown.told?.length" class="panel stack">
        <h2>So far</h2>
        <p v-for="(line, n) in shown.told" :key="n" class="line">{{ line }}</p>
      </section>
      <p class="soft seed">This round has the number {{ round.seed }}.</p>
    </div>
  </div>
</template>

<style scoped>
/* A line is read at the width of the screen: its stitches are as large as they can be. */
.wide {
  grid-template-columns: minmax(0, 1fr);
}
.ask {
  font-size: var(--type-large);
  line-height: 1.25;
}
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.6rem;
}
.choices button {
  min-height: 52px;
  padding: 0.4rem 0.8rem;
  text-align: left;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  color: inherit;
  font: inherit;
  font-weight: 620;
}
.setting {
  display: flex;
  gap: 0.6rem;
  align-items: end;
  flex-wrap: wrap;
}
.setting :deep(.field) {
  width: 9rem;
}
.tap {
  min-height: 9rem;
  font: inherit;
  font-size: var(--type-large);
  font-weight: 700;
  border: 4px solid var(--marigold);
  border-radius: 8px;
  background: var(--amber-wash);
  color: var(--ink);
  touch-action: manipulation;
}
.right {
  color: var(--teal);
}
.wrong {
  color: var(--amber);
}
.line {
  margin: 0;
}
.later {
  justify-self: start;
}
.seed {
  margin: 0.6rem 1.25rem;
}
</style>
