<script setup lang="ts">
import { computed } from "vue";
import { useRoute } from "vue-router";
import { useLine, usePlanNow } from "../api/queries";
import { useMachineId } from "../composables/machine";

/** What the pass that is on asks for and the machine has otherwise: the next move, pinned on every station. */
const machine = useMachineId();
const route = useRoute();
const { data: line } = useLine(machine);
const { data: plan } = usePlanNow(machine);
// A recipe that is put back has its own moves, and they lead.
const shown = computed(() => (plan.value?.moves.length && !line.value?.recipe ? plan.value : undefined));
</script>

<template>
  <aside v-if="shown" class="pinned" :aria-label="`The plan of ${shown.quilt}`">
    <p>
      <strong dir="auto">{{ shown.quilt }}</strong>
      <span class="soft">, {{ shown.words }}</span>
    </p>
    <ul>
      <li v-for="m in shown.moves" :key="m.text">
        <RouterLink
          :to="{ name: m.station, params: { machine } }"
          class="onward"
          :aria-current="route.name === m.station ? 'page' : undefined"
          >{{ m.text }}</RouterLink
        >
      </li>
    </ul>
    <RouterLink :to="{ name: 'run', params: { machine }, query: { part: 'plan' } }" class="onward">The plan</RouterLink>
  </aside>
</template>

<style scoped>
.pinned {
  padding-block: 0.1rem;
}
[aria-current="page"] {
  font-weight: 700;
}
@media (max-width: 600px) {
  .pinned {
    padding: 0 0.9rem;
  }
  .pinned > p {
    display: none;
  }
  /* The next move alone: the others follow it. */
  li:nth-child(n + 2) {
    display: none;
  }
  ul {
    flex: 1;
  }
}
</style>
