<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, reactive } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import ColorDot from "../../parts/ColorDot.vue";
import ReasonList from "../../parts/ReasonList.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { percent } from "../../words";
import { usePutOnTop } from "../../composables/send";
import OwnSays from "../../parts/OwnSays.vue";

const WISHES: { value: Schemas["Wish"]; name: string }[] = [
  { value: "show", name: "show" },
  { value: "blend", name: "blend" },
  { value: "hide", name: "disappear" },
  { value: "micro", name: "micro fill" },
];
const machine = useMachineId();
const here = useHere();
const wish = reactive({
  wish: "show" as Schemas["Wish"],
  ground: "light" as Schemas["Ground"],
  busy: false,
  little_lint: false,
  sheen: null as boolean | null,
});
const { data } = useQuery({
  queryKey: computed(() => ["wish", machine.value, { ...wish }]),
  queryFn: () => answer(client.POST("/api/machines/{machine_id}/wish", { ...here(), body: { ...wish } })),
  placeholderData: keepPreviousData,
});
const best = computed(() => data.value?.matches[0]);
const top = usePutOnTop();
</script>

<template>
  <div class="wish">
    <section class="panel stack">
      <ToggleRow v-model="wish.wish" label="The stitching should" :options="WISHES" />
      <ToggleRow
        v-model="wish.ground"
        label="The fabric is"
        :options="[
          { value: 'light', name: 'light' },
          { value: 'dark', name: 'dark' },
        ]" />
      <ToggleRow
        v-model="wish.busy"
        label="The print is"
        :options="[
          { value: false, name: 'plain' },
          { value: true, name: 'busy' },
        ]" />
      <ToggleRow
        v-model="wish.sheen"
        label="Sheen"
        :options="[
          { value: null, name: 'no matter' },
          { value: true, name: 'glossy' },
          { value: false, name: 'matte' },
        ]" />
      <ToggleRow
        v-model="wish.little_lint"
        label="Lint"
        :options="[
          { value: false, name: 'no matter' },
          { value: true, name: 'as little as possible' },
        ]" />
    </section>
    <section v-if="data" class="panel stack" aria-live="polite">
      <p class="soft">{{ data.fibers.join(", ") }}</p>
      <p class="answer" data-answer>{{ data.finest_wt }}–{{ data.heaviest_wt }} <small>wt</small></p>
      <template v-if="best">
        <h2>From the drawer</h2>
        <ol>
          <li v-for="m in data.matches" :key="m.id">
            <ColorDot :color="m.color" :size="30" />
            <span class="what"
              ><strong>{{ m.name }}</strong
              >{{ " " }}
              <span class="soft"
                >{{ m.words }} · meets it {{ percent(m.score) }}: {{ m.reasons.join(", ") }}</span
              ></span
            >
            <RouterLink
              :to="{ query: { part: 'new', thread: m.id } }"
              class="step-link"
              :aria-label="`Plan it: ${m.name}`"
              >Plan it</RouterLink
            >
            <Button label="On top" outlined :aria-label="`On top: ${m.name}`" @click="top.go([m.id])" />
          </li>
        </ol>
      </template>
      <p v-else class="verdict">Nothing in the drawer fits this well.</p>
      <p><strong>Below:</strong> {{ data.bobbin }}</p>
      <ReasonList :reasons="data.reasons" />
      <OwnSays station="thread" feeds bare />
    </section>
  </div>
</template>

<style scoped>
.wish {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 1.25rem;
  align-items: start;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 30px 1fr auto auto;
  gap: 0.8rem;
  align-items: center;
  padding: 0.35rem 0;
  border-top: 1px solid var(--rule);
}
.what .soft {
  display: block;
  font-size: var(--type-small);
}
@media (max-width: 900px) {
  .wish {
    grid-template-columns: 1fr;
  }
}
@media (max-width: 500px) {
  li {
    grid-template-columns: 30px 1fr;
  }
  li > :nth-child(n + 3) {
    grid-column: 2;
    justify-self: start;
  }
}
</style>
