<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { numberIn, readNumber } from "../../composables/fields";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import { MOTION_SAYS } from "../../words";
import GradePicker from "./GradePicker.vue";
import KnobAndMark from "./KnobAndMark.vue";

const MOTIONS = Object.keys(MOTION_SAYS) as Schemas["Motion"][];
const SCALE_SAYS = { dial: "dial number", turns: "turns from the mark, + is in", readout: "readout" };

/** One look: where it was stitched, in which motion, and what it looks like. */
const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const motion = defineModel<Schemas["Motion"]>("motion", { required: true });
const { data: words } = useWords();
const scale = computed(() => props.station.scale);
const top = computed(() => props.station.setup.top?.[0]);
const bobbin = computed(() => props.station.setup.bobbin);
/** The setting follows it, until somebody types another. */
const setting = ref("");
watch(
  () => props.station.estimate.act_at,
  (next) => (setting.value = String(next)),
  { immediate: true },
);
/** The picture that was tapped, for as long as no other tap is taken: a tap too many is the same tap. */
const RESTS_MS = 900;
const tapped = ref<number | null>(null);
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
  async (grade: number) =>
    answer(
      client.POST("/api/machines/{machine_id}/looks", {
        ...here(),
        body: {
          setting: numberIn("setting", setting.value),
          grade,
          motion: motion.value,
          doubtful: doubtful.value,
        },
      }),
    ),
  {
    says: (kept) => `Saved: ${kept.text}.`,
    then: () => {
      doubtful.value = false;
    },
  },
);
function saveLook(grade: number | null) {
  if (grade === null || tapped.value !== null) return;
  tapped.value = grade;
  window.setTimeout(() => (tapped.value = null), RESTS_MS);
  void keepLook.go(grade);
}
const { error } = keepLook;
const knobSays = ref("");
</script>

<template>
  <section class="panel stack hand">
    <h2 class="asks">Tap what your {{ MOTION_SAYS[motion] }} stitch looks like</h2>
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
    <p v-if="error('setting') || knobSays" class="field-error" role="alert">
      {{ error("setting") ?? knobSays }}
    </p>
    <GradePicker
      :model-value="tapped"
      :grades="words?.grades ?? []"
      :top="top"
      :bobbin="bobbin"
      :busy="tapped !== null || keepLook.pending.value"
      @update:model-value="saveLook" />
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
    <label class="sure"><input v-model="doubtful" type="checkbox" /> I'm not sure of the next one</label>
    <p v-if="keepLook.problem.value?.lost || error('grade')" class="field-error" role="alert">
      {{ keepLook.problem.value?.message }}
    </p>
    <KnobAndMark :station="station" :setting="setting" @refused="(says) => (knobSays = says)" />
  </section>
</template>

<style scoped>
@media (max-width: 600px) {
  .hand {
    gap: 0.4rem;
  }
  .asks {
    font-size: 1rem;
  }
  .dial button {
    min-height: 48px;
  }
}
.dial {
  display: grid;
  grid-template-columns: 72px 1fr 72px;
  gap: 0.5rem;
}
.dial button {
  font-size: var(--type-large);
  font-weight: 700;
  border: 2px solid var(--rule);
  background: var(--linen);
  border-radius: 4px;
  min-height: 56px;
}
.dial input {
  font-size: var(--type-large);
  font-weight: 720;
  text-align: center;
  padding: 0;
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
