<script setup lang="ts">
import ToggleRow from "../../parts/ToggleRow.vue";
import { choice, FORCE_NAMES, pull, spoken, stretch } from "../../units";

/** The units of this screen. What is on record stays as it is: it is only said in other words. */
const FORCES: { value: typeof choice.force; name: string }[] = [
  { value: null, name: "as the gauge is marked" },
  { value: "mN", name: "mN" },
  { value: "gf", name: "grams" },
  { value: "cN", name: "cN" },
];
const LENGTHS: { value: typeof choice.lengths; name: string }[] = [
  { value: "metric", name: "meters, millimeters" },
  { value: "inch", name: "yards, inches" },
];
const EXAMPLE_MN = 204;
</script>

<template>
  <section class="panel stack" aria-labelledby="units-title">
    <h2 id="units-title">Units on this screen</h2>
    <ToggleRow v-model="choice.force" label="The pull of a bobbin" :options="FORCES" />
    <ToggleRow v-model="choice.lengths" label="Lengths" :options="LENGTHS" />
    <p class="soft">
      A bobbin then reads {{ pull(EXAMPLE_MN) }}, and it holds {{ stretch(110) }}. Type a unit with any number: 60 in,
      1.5 m, 22 g.
    </p>
    <span class="sr" aria-live="polite">Now {{ FORCE_NAMES[spoken.force] }} and {{ spoken.lengths }}.</span>
  </section>
</template>
