<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import ToggleRow from "../../parts/ToggleRow.vue";
import { ZONE } from "../../words";

/** Plans a test: fewest steps, a half or a full ladder; its strip prints true to size. */
const props = defineProps<{ motion: Schemas["Motion"]; chosen: string }>();
const emit = defineEmits<{ choose: [setting: number] }>();
const PLANS: { value: Schemas["LadderPlan"]; name: string }[] = [
  { value: "fewest", name: "fewest steps" },
  { value: "half", name: "half ladder" },
  { value: "full", name: "full ladder" },
];
const machine = useMachineId();
const here = useHere();
const plan = ref<Schemas["LadderPlan"]>("fewest");
const { data } = useQuery({
  queryKey: computed(() => ["ladder", machine.value, plan.value, props.motion]),
  queryFn: () =>
    answer(
      client.POST("/api/machines/{machine_id}/ladder", {
        ...here(),
        body: { plan: plan.value, motion: props.motion },
      }),
    ),
  placeholderData: keepPreviousData,
});
const strip = (form: string, paper: string) =>
  `/api/machines/${machine.value}/strip.${form}?plan=${plan.value}&motion=${props.motion}&paper=${paper}&${ZONE}`;
</script>

<template>
  <section class="panel stack">
    <ToggleRow v-model="plan" label="Plan a test" :options="PLANS" />
    <template v-if="data">
      <p>
        Sew on {{ data.cloth }}.
        {{
          plan === "fewest"
            ? "One step at a time; each look says the next."
            : "Change the setting at each mark, an inch apart."
        }}
      </p>
      <div class="row">
        <button
          v-for="(s, i) in data.settings"
          :key="s"
          type="button"
          class="step"
          :aria-pressed="String(s) === chosen"
          @click="emit('choose', s)">
          {{ data.words[i] }}
        </button>
      </div>
      <p class="links">
        Strip with an inch line:
        <a :href="strip('pdf', 'a4')" target="_blank">A4</a>
        <a :href="strip('pdf', 'letter')" target="_blank">letter</a>
        <a :href="strip('svg', 'a4')" target="_blank">SVG</a>
      </p>
    </template>
  </section>
</template>

<style scoped>
.step {
  min-height: 48px;
  min-width: 56px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  font-weight: 650;
  padding: 0 0.6rem;
}
.step[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
.links a {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  min-width: 44px;
  padding: 0 0.4rem;
  color: var(--ink);
}
</style>
