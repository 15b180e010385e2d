<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import DraftNote from "../../parts/DraftNote.vue";
import NumberPad from "../../parts/NumberPad.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { FORCE_NAMES, FORCE_SAYS, pull } from "../../units";
import { useReading, VERDICTS, type Unit } from "./reading";

const UNITS: Unit[] = ["mN", "gf", "cN"];
defineProps<{ cases: { value: number; name: string }[] }>();
const reading = useReading();
const words = (p: Schemas["Pull"]) => (p.value != null ? `${p.value}` : `${p.low} – ${p.high}`);
const prompt = computed(() => {
  const which = `Pull ${reading.taking.length + 1}`;
  if (!reading.both) return which;
  return reading.low ? `${which}: highest (lowest was ${reading.low})` : `${which}: lowest`;
});
</script>

<template>
  <section class="panel stack hand">
    <DraftNote :shown="reading.draft.state.restored" @drop="reading.draft.drop()" />
    <p v-if="reading.judged" class="at-pad gauge-verdict" :class="reading.judged.verdict" aria-hidden="true">
      {{ pull(reading.judged.mean_mn) }} · {{ VERDICTS[reading.judged.verdict] }} · not saved yet
    </p>
    <div class="row units" :class="{ known: reading.unit }" role="group" aria-label="The gauge is marked in">
      <button
        v-for="u in UNITS"
        :key="u"
        type="button"
        class="toggle"
        :aria-pressed="u === reading.unit"
        @click="((reading.unit = u), (reading.guessed = ''))">
        {{ FORCE_NAMES[u] }}
      </button>
      <button
        type="button"
        class="toggle"
        :aria-pressed="reading.both"
        @click="((reading.both = !reading.both), (reading.low = ''))">
        low and high
      </button>
    </div>
    <p v-if="reading.guessed && reading.unit" role="status">
      {{ reading.guessed }}? Your gauge shows {{ FORCE_NAMES[reading.unit] }}. If not, tap what it's marked in.
    </p>
    <label class="field">
      <span
        >{{ prompt }}<template v-if="reading.unit">, {{ FORCE_NAMES[reading.unit] }}</template></span
      >
      <input
        :ref="(input) => (reading.field = input as HTMLInputElement)"
        v-model="reading.entry"
        class="plain-input reading"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="!!reading.refused"
        @keydown.enter.prevent="reading.entry && reading.add()" />
    </label>
    <p v-if="reading.refused" class="field-error" role="alert">{{ reading.refused }}</p>
    <NumberPad
      v-model="reading.entry"
      :enter-label="reading.both && !reading.low ? `That's the lowest` : 'Add this pull'"
      :can-enter="!!reading.entry"
      @enter="reading.add" />
    <ol v-if="reading.taking.length" class="pulls" aria-label="Pulls">
      <li v-for="(p, i) in reading.taking" :key="i">
        <strong>{{ words(p) }}</strong> {{ reading.unit ? FORCE_SAYS[reading.unit] : "" }}
        <button
          type="button"
          :aria-label="`Remove pull ${i + 1}`"
          @click="reading.taking = reading.taking.filter((_, n) => n !== i)">
          ✕
        </button>
      </li>
    </ol>
    <Button
      data-new
      label="Save reading"
      size="large"
      :disabled="!reading.taking.length && !reading.entry"
      :loading="reading.keep.pending"
      @click="reading.submit" />
    <ChoiceBox v-model="reading.caseId" label="Case" :options="cases" />
    <details>
      <summary>Conditions</summary>
      <div class="stack">
        <ToggleRow
          v-model="reading.conditions.full_bobbin"
          label="Bobbin"
          :options="[
            { value: null, name: 'not noted' },
            { value: true, name: 'full' },
            { value: false, name: 'part' },
          ]" />
        <ToggleRow
          v-model="reading.conditions.lying_flat"
          label="Gauge"
          :options="[
            { value: null, name: 'not noted' },
            { value: true, name: 'lying flat' },
            { value: false, name: 'held' },
          ]" />
        <ToggleRow
          v-model="reading.conditions.phase"
          label="Change of thread"
          :options="[
            { value: null, name: 'none' },
            { value: 'before_change', name: 'before it' },
            { value: 'after_change', name: 'after it' },
          ]" />
      </div>
    </details>
  </section>
</template>

<style scoped>
/* Beside the pad, where the hand is: on a narrow screen the large answer is scrolled away. */
.at-pad {
  display: none;
  font-size: var(--type-head);
  font-weight: 700;
}
@media (max-width: 900px) {
  .at-pad {
    display: block;
  }
}
@media (max-width: 600px) {
  .hand {
    gap: 0.4rem;
  }
  /* The unit is that of the last reading: it comes after what the hand does next. */
  .hand {
    display: flex;
    flex-direction: column;
  }
  .units.known {
    order: 1;
  }
  .hand > :nth-last-child(-n + 2) {
    order: 2;
  }
  .units {
    flex-wrap: nowrap;
    gap: 0.3rem;
  }
  .units .toggle {
    padding: 0 0.5rem;
    min-width: 48px;
  }
}
.units .toggle {
  min-width: 64px;
}
.units .toggle:last-child {
  margin-left: auto;
}
.reading {
  font-size: var(--type-large);
  font-weight: 700;
  text-align: right;
}
.pulls {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
}
.pulls li {
  display: flex;
  align-items: center;
  gap: 0.4rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  padding-left: 0.8rem;
  font-size: var(--type-lead);
}
.pulls button {
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
}
</style>
