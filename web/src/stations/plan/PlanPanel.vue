<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useLine, usePlan, usePlans } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import { counted, percent } from "../../words";
import OnePlan from "./OnePlan.vue";
import PlanForm from "./PlanForm.vue";
import ShoppingList from "./ShoppingList.vue";

/** Quilts planned in passes: the plan that is on first, the others below it, and what to buy for all of them. */
const machine = useMachineId();
const route = useRoute();
const router = useRouter();
const { data: plans } = usePlans();
const { data: line } = useLine(machine);
const chosen = ref(Number(route.query.plan ?? 0));
/** Until somebody picks a plan, that of the quilt that is on leads, whichever answer comes first. */
const picked = ref(chosen.value > 0);
const making = ref<"" | "new" | "change">("");
watch(
  [plans, line],
  () => {
    const known = plans.value ?? [];
    if (picked.value && known.some((p) => p.id === chosen.value)) return;
    const on = known.find((p) => p.quilt === line.value?.setup.quilt);
    const here = known.find((p) => p.machine_id === machine.value && !p.over);
    chosen.value = (on ?? here ?? known[0])?.id ?? 0;
  },
  { immediate: true },
);
const { data: page } = usePlan(chosen);
const shown = computed(() => (page.value?.id === chosen.value ? page.value : undefined));
function open(id: number) {
  chosen.value = id;
  picked.value = true;
  making.value = "";
  void router.replace({ query: { ...route.query, plan: id } });
}
</script>

<template>
  <div class="plans">
    <div class="stack main">
      <PlanForm
        v-if="making"
        :key="making === 'new' ? 'new' : chosen"
        :page="making === 'change' ? shown : undefined"
        :others="plans"
        @done="open"
        @leave="making = ''" />
      <OnePlan v-else-if="shown" :page="shown" @change="((making = 'change'), (picked = true))" />
      <section v-else-if="plans?.length === 0" class="panel stack">
        <p class="answer">Plan a quilt</p>
        <p>
          Say its size and how you'll quilt it. You get the thread, the bobbins, the hours, and the order with the
          fewest changes.
        </p>
      </section>
    </div>
    <div class="stack side">
      <section v-if="!making" class="panel stack">
        <Button data-new label="Plan a quilt" @click="making = 'new'" />
        <ul v-if="plans?.length">
          <li v-for="p in plans" :key="p.id">
            <button type="button" :aria-pressed="p.id === chosen" @click="open(p.id)">
              <strong dir="auto">{{ p.quilt }}</strong>
              <span class="soft">{{ p.over ? "done" : p.share ? `${percent(p.share)} sewn` : "not begun" }}</span>
              <span class="soft">{{ p.machine }} · {{ p.done }} of {{ counted(p.passes, "pass", "passes") }}</span>
            </button>
          </li>
        </ul>
      </section>
      <ShoppingList v-if="!making" />
    </div>
  </div>
</template>

<style scoped>
.plans {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(15rem, 1fr);
  gap: 1.25rem;
  align-items: start;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li button {
  width: 100%;
  min-height: 52px;
  display: grid;
  grid-template-columns: 1fr auto;
  text-align: left;
  border: 0;
  border-top: 1px solid var(--rule);
  background: none;
  padding: 0.35rem 0.4rem;
  overflow-wrap: anywhere;
}
li button span:last-child {
  grid-column: 1 / -1;
}
li button[aria-pressed="true"] {
  background: var(--amber-wash);
}
@media (max-width: 900px) {
  .plans {
    grid-template-columns: minmax(0, 1fr);
    gap: 0.9rem;
  }
}
</style>
