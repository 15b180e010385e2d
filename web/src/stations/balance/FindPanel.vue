<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import BalanceStrip from "../../diagrams/BalanceStrip.vue";
import { useHere, useMachineId } from "../../composables/machine";
import FieldBox from "../../parts/FieldBox.vue";
import ReasonList from "../../parts/ReasonList.vue";
import WordNote from "../../parts/WordNote.vue";
import GradePicker from "./GradePicker.vue";
import KeepForm from "./KeepForm.vue";
import SandwichForm from "../../parts/SandwichForm.vue";
import LadderPanel from "./LadderPanel.vue";
import { useNote, useStrikeRecord } from "../../composables/send";
import { numberIn, readNumber } from "../../composables/fields";
import { MOTION_SAYS } from "../../words";

const MOTIONS = Object.keys(MOTION_SAYS) as Schemas["Motion"][];
const SCALE_SAYS = { dial: "dial number", turns: "turns from the mark, + is in", readout: "readout" };

const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const motion = defineModel<Schemas["Motion"]>("motion", { required: true });
const machine = useMachineId();
const { data: words } = useWords();
const scale = computed(() => props.station.scale);
const found = computed(() => props.station.estimate);
const looks = computed(() =>
  props.station.looks.flatMap((e) =>
    e.payload?.kind === "look" ? [{ setting: e.payload.setting, grade: e.payload.grade }] : [],
  ),
);
const top = computed(() => props.station.setup.top?.[0]);
const bobbin = computed(() => props.station.setup.bobbin);

/** What the action names: where to stitch, or where to leave it. */
const following = computed(() => found.value.act_at);
/** The setting follows it, until somebody types another. */
const setting = ref("");
watch(following, (next) => (setting.value = String(next)), { immediate: true });
const grade = ref<number | null>(null);
const doubtful = ref(false);
function turn(steps: number) {
  const { low, high, step } = scale.value;
  const from = readNumber(setting.value);
  if (from === undefined) return;
  const next = from + steps * step;
  setting.value = String(+Math.min(high, Math.max(low, next)).toFixed(4));
}
const here = useHere();
const keepLook = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/looks", {
        ...here(),
        body: {
          setting: numberIn("setting", setting.value),
          grade: grade.value as number,
          motion: motion.value,
          doubtful: doubtful.value,
        },
      }),
    ),
  {
    says: (kept) => `Kept: ${kept.text}.`,
    then: () => {
      grade.value = null;
      doubtful.value = false;
    },
  },
);
const { error } = keepLook;
const records = useStrikeRecord();
/** A guard rail that stands in the way is put aside by the hand that has done what it asks. */
const at = (words: string) => (/^(at |automatic)/.test(words) ? words : `at ${words}`);
const done = ref<string[]>([]);
watch(
  () => props.station.looks.length,
  () => (done.value = []),
);
const blocking = computed(() => props.station.guards.find((g) => g.blocks && !done.value.includes(g.trap)));
const advice = computed(() => props.station.guards.filter((g) => !g.blocks));
/** A look beside balanced that nobody called good enough yet. */
const acceptable = computed(() => {
  const { lowest, highest } = props.station.tolerance.accepted;
  const last = looks.value.at(-1)?.grade ?? 0;
  return Math.abs(last) === 1 && (last < (lowest ?? 0) || last > (highest ?? 0)) ? last : 0;
});
const accept = useNote((grade: number) =>
  answer(client.POST("/api/machines/{machine_id}/good-enough", { ...here(), body: { kind: "good_enough", grade } })),
);
const knob = useNote((automatic: boolean) =>
  answer(
    client.POST("/api/machines/{machine_id}/knob", {
      ...here(),
      body: { kind: "knob_set", setting: automatic ? null : numberIn("setting", setting.value) },
    }),
  ),
);
/** Loosened for this thread is on target at the gauge, until the thread is off. */
const loosen = useNote(() =>
  answer(
    client.POST("/api/machines/{machine_id}/purpose", {
      ...here(),
      body: { kind: "bobbin_purpose", purpose: "delicate", target: null },
    }),
  ),
);
const markName = ref("");
const mark = useNote(
  async () =>
    answer(
      client.POST("/api/machines/{machine_id}/mark", {
        ...here(),
        body: { kind: "mark_set", name: markName.value, at: numberIn("at", setting.value) },
      }),
    ),
  { then: () => (markName.value = "") },
);
const AT_BOBBIN = ["fluttering_bobbin", "unread_bobbin"];
</script>

<template>
  <div class="station together">
    <div>
      <section class="panel stack lead" aria-live="polite">
        <template v-if="blocking">
          <p class="answer first">First this</p>
          <p class="verdict trouble">{{ blocking.text }}</p>
          <div class="row">
            <RouterLink
              v-if="AT_BOBBIN.includes(blocking.trap)"
              :to="{ name: 'bobbin', params: { machine } }"
              class="go"
              >Go to Bobbin</RouterLink
            >
            <Button
              :label="blocking.trap === 'sudden_nest' ? 'It is seated' : 'I have looked'"
              outlined
              @click="done.push(blocking.trap)" />
          </div>
        </template>
        <template v-else>
          <!-- In the place of what stands there: nothing moves for the moment that it mostly takes. -->
          <p class="soft">
            <template v-if="station.motion !== motion"
              >Still for {{ MOTION_SAYS[station.motion] }}: {{ MOTION_SAYS[motion] }} is on its way.</template
            >
            <template v-else>{{ looks.length ? "Do this now" : "Start" }}</template>
          </p>
          <p class="answer act" data-answer>{{ found.action }}</p>
          <p class="verdict">
            {{ looks.length ? "The estimate" : "Expected at" }} {{ station.set_to_words }}, between
            {{ station.low_words }} and {{ station.high_words }}<span class="soft">, 95 in 100</span>
          </p>
          <p v-if="found.eye_says" class="good">{{ found.eye_says }}</p>
          <p v-if="station.present_says" class="good">{{ station.present_says }}</p>
        </template>
        <BalanceStrip
          :low="scale.low"
          :high="scale.high"
          :looks="looks"
          :grid="found.grid"
          :density="found.density"
          :interval="[found.low, found.high]"
          :centre="found.centre"
          :following="following"
          :top="top?.colour ?? '#2f6f62'"
          :bobbin="bobbin?.colour ?? '#c9a36a'"
          :words="`${looks.length} stitched steps, front and back. ${found.text}`" />
        <p v-if="station.next_says" class="soft">▲ {{ station.next_says }}</p>
        <p v-if="station.setup.bobbin_work" class="caution">
          Bobbin work: the quilt lies face down, so what is called front here is its back. Loosen the case, not the top,
          for a thread that lies too straight.
        </p>
        <div v-for="g in advice" :key="g.trap" class="caution">
          {{ g.text }}
          <Button
            v-if="g.trap === 'metallic' && station.setup.purpose?.purpose !== 'delicate'"
            label="I loosen it for this thread"
            text
            :loading="loosen.pending.value"
            @click="loosen.go()" />
        </div>
        <p v-if="station.tolerance.why" class="good">Good enough here: {{ station.tolerance.why }}.</p>
        <div v-if="acceptable" class="row">
          <Button
            :label="`Good enough for this quilt: ${acceptable > 0 ? 'a few specks below' : 'a few dots on top'}`"
            outlined
            :loading="accept.pending.value"
            @click="accept.go(acceptable)" />
        </div>
        <Button v-else-if="station.setup.good_enough" label="Only balanced is good enough" text @click="accept.go(0)" />
      </section>
      <section class="panel stack">
        <h2>Why</h2>
        <ReasonList :reasons="found.reasons" />
        <template v-if="station.start">
          <p>{{ station.start.text }}</p>
          <ul v-if="station.start.records.length" class="records">
            <li v-for="r in station.start.records" :key="r.name + r.setting">
              <strong>{{ r.name }}</strong> at {{ +r.setting.toFixed(2)
              }}<span class="soft">
                · left out, the guess missed it by
                {{ Math.abs(r.miss).toFixed(scale.kind === "readout" ? 0 : 2) }}</span
              >
            </li>
          </ul>
          <p v-if="station.start.typical_miss != null" class="soft">
            Such guesses missed by {{ station.start.typical_miss.toFixed(scale.kind === "readout" ? 0 : 2) }} in the
            middle<template v-if="station.start.school_miss != null"
              >; the schools' value alone by
              {{ station.start.school_miss.toFixed(scale.kind === "readout" ? 0 : 2) }}</template
            >.
          </p>
        </template>
      </section>
      <LadderPanel
        :motion="motion"
        :scale="scale"
        :top="top?.colour ?? '#2f6f62'"
        :bobbin="bobbin?.colour ?? '#c9a36a'" />
    </div>
    <div>
      <section class="panel stack hand">
        <label class="field">
          <span>Stitched at: {{ SCALE_SAYS[scale.kind] }}, {{ scale.low }} to {{ scale.high }}</span>
          <span class="dial">
            <button type="button" aria-label="Looser, one step" @click="turn(-1)">−</button>
            <input
              v-model="setting"
              class="plain-input"
              inputmode="decimal"
              autocomplete="off"
              :aria-invalid="!!error('setting')"
              aria-label="Top tension setting" />
            <button type="button" aria-label="Tighter, one step" @click="turn(1)">+</button>
          </span>
        </label>
        <p v-if="error('setting') || knob.error('setting')" class="field-error" role="alert">
          {{ error("setting") ?? knob.error("setting") }}
        </p>
        <div class="row knob">
          <span class="soft">{{
            station.knob_words ? `The knob stands ${at(station.knob_words)}` : "Where the knob stands is not on record"
          }}</span>
          <Button :label="`Knob now at ${setting}`" text :loading="knob.pending.value" @click="knob.go(false)" />
          <Button label="Automatic" text @click="knob.go(true)" />
        </div>
        <p v-if="scale.kind === 'turns'" class="soft">
          Turns are counted from the <WordNote term="mark" />{{
            station.setup.mark ? ` ${station.setup.mark.name}` : ""
          }}.
        </p>
        <form v-if="scale.kind === 'turns'" class="row knob" @submit.prevent="mark.go()">
          <FieldBox
            :label="
              station.setup.mark
                ? `The mark is ${station.setup.mark.name}. Set it anew, and say where`
                : 'Set the mark here, and say where that is'
            "
            :error="mark.error('name', 'at')"
            class="grow"
            ><InputText v-model="markName" placeholder="where 40 over 60 balanced"
          /></FieldBox>
          <Button type="submit" label="The mark is here" outlined class="low" />
        </form>
        <div class="row" role="group" aria-label="How it was sewn">
          <button
            v-for="m in MOTIONS"
            :key="m"
            type="button"
            class="toggle"
            :aria-pressed="motion === m"
            @click="motion = m">
            {{ MOTION_SAYS[m] }}
          </button>
        </div>
        <h2>Which one looks like your stitch?</h2>
        <GradePicker v-model="grade" :grades="words?.grades ?? []" :top="top" :bobbin="bobbin" />
        <label class="sure"><input v-model="doubtful" type="checkbox" /> not sure of it</label>
        <p v-if="keepLook.problem.value?.lost || error('grade')" class="field-error" role="alert">
          {{ keepLook.problem.value?.message }}
        </p>
        <Button
          data-new
          label="Keep this look"
          size="large"
          :disabled="grade === null"
          :loading="keepLook.pending.value"
          @click="keepLook.go()" />
      </section>
      <SandwichForm :sandwich="station.setup.sandwich ?? null" />
      <KeepForm :station="station" />
      <section v-if="station.looks.length" class="panel">
        <h2>Looks at this combination</h2>
        <ol class="seen">
          <li v-for="e in [...station.looks].reverse()" :key="e.id">
            {{ e.text }}
            <Button
              label="Strike out"
              text
              severity="secondary"
              :aria-label="`Strike out ${e.text}`"
              @click="records.out(e.id, 'Struck out. It no longer counts.')" />
          </li>
        </ol>
      </section>
    </div>
  </div>
</template>

<style scoped>
.grow {
  flex: 1 1 14rem;
}
.low {
  align-self: end;
}
.knob {
  align-items: center;
  justify-content: space-between;
}
.act {
  font-size: clamp(2rem, 4vw, 3.1rem);
  line-height: 1.1;
}
.first {
  font-size: 2.6rem;
}
.trouble {
  color: var(--vermilion);
}
.good {
  font-size: 1.1rem;
}
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.6rem 0.9rem;
}
.go {
  display: inline-flex;
  align-items: center;
  min-height: 48px;
  padding: 0 1rem;
  font-weight: 650;
  color: var(--ink);
}
.records,
.seen {
  margin: 0;
  padding: 0;
  list-style: none;
}
.records li,
.seen li {
  padding: 0.3rem 0;
  border-top: 1px solid var(--rule);
}
.seen li {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.dial {
  display: grid;
  grid-template-columns: 72px 1fr 72px;
  gap: 0.5rem;
}
.dial button {
  font-size: 2rem;
  font-weight: 700;
  border: 2px solid var(--rule);
  background: var(--linen);
  border-radius: 4px;
  min-height: 56px;
}
.dial input {
  font-size: 2rem;
  font-weight: 720;
  text-align: center;
  padding: 0;
}
.toggle {
  min-height: 48px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  font-weight: 600;
}
.toggle[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
.sure {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  min-height: 44px;
}
.sure input {
  width: 24px;
  height: 24px;
  accent-color: var(--marigold);
}
</style>
