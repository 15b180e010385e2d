<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import { useHas } from "../../composables/features";
import { useMachineId } from "../../composables/machine";

/** What to do on a new machine, in working order, until the first stitch is looked at. */
const props = defineProps<{ line: Schemas["ThreadLine"] }>();
const machine = useMachineId();
const has = useHas();
const STEPS = computed(() => [
  { station: "thread", says: "Put the thread you use most on top, and one into the bobbin." },
  { station: "needle", says: "See which needle it needs, and fit it." },
  { station: "bobbin", says: has("gauge") ? "Read the bobbin." : "Feel the bobbin." },
  { station: "balance", says: "Stitch a test, and save what works." },
]);
const open = computed(() => {
  const to_do = new Set(props.line.knots.filter((k) => k.state === "to_do").map((k) => k.station));
  return STEPS.value.filter((step) => to_do.has(step.station as Schemas["Station"]));
});
const shown = computed(() => !props.line.setup.look && open.value.length > 1);
</script>

<template>
  <section v-if="shown" class="panel steps" aria-labelledby="next-title">
    <h2 id="next-title">Next, in this order</h2>
    <ol>
      <li v-for="(step, i) in open.slice(0, 3)" :key="step.station" :class="{ first: i === 0 }">
        <RouterLink :to="{ name: step.station, params: { machine } }">{{ step.says }}</RouterLink>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  margin: 0.3rem 0 0;
  padding-left: 1.4rem;
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  color: var(--ink);
}
.first a {
  font-size: var(--type-lead);
  font-weight: 650;
}
</style>
