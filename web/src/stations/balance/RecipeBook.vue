<script setup lang="ts">
import { printed } from "../../units";
import Button from "primevue/button";
import { computed, ref, shallowRef } from "vue";
import { refDebounced } from "../../composables/debounce";
import { answer, client, type Schemas } from "../../api/client";
import { type RecipeQuery, useRecipes } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import { CHANGED, counted, day, listed, MOTION_SAYS } from "../../words";
import { useSend, useTakeBack } from "../../composables/send";
import AsTable from "../../parts/AsTable.vue";
import BookSearch from "./BookSearch.vue";

type Item = Schemas["RecipeItem"];
const machine = useMachineId();
const text = ref("");
const searched = refDebounced(text, 120);
const everywhere = ref(false);
const motion = ref<Schemas["Motion"]>();
const query = computed<RecipeQuery>(() => ({
  text: searched.value,
  machine: everywhere.value ? undefined : machine.value,
  motion: motion.value,
}));
const { data: pages, fetchNextPage, hasNextPage, isFetchingNextPage } = useRecipes(query);
const items = computed(() => pages.value?.pages.flatMap((page) => page.items));
const compared = shallowRef<Schemas["InUse"] | null>(null);
const look = useSend((item: Item) =>
  answer(
    client.GET("/api/machines/{machine_id}/recipes/{recipe_id}/differences", {
      params: { path: { machine_id: machine.value, recipe_id: item.entry.id } },
    }),
  ),
);
const takeBack = useTakeBack();
const use = useSend(
  (item: Item) =>
    answer(
      client.POST("/api/machines/{machine_id}/recipes/{recipe_id}/use", {
        params: { path: { machine_id: machine.value, recipe_id: item.entry.id } },
      }),
    ),
  {
    says: (begun) =>
      `${begun.name}: ${counted(begun.moves.length, "move")}, pinned above until ${begun.moves.length === 1 ? "it is" : "they are"} done.`,
    undo: (begun) => () => void takeBack.go([...(begun.records ?? [])]),
    waits: true,
    then: () => (compared.value = null),
  },
);
async function compare(item: Item) {
  compared.value = await look.go(item);
}
const nameOf = (item: Item) => (item.entry.payload?.kind === "recipe" ? item.entry.payload.name : "");
const looksOf = (item: Item) => (item.entry.payload?.kind === "recipe" ? (item.entry.payload.looks ?? 0) : 0);
/** What else it was kept with; what a card does not say is left out. */
const lineOf = (item: Item) =>
  [
    item.entry.payload?.kind === "recipe" && item.entry.payload.motion && MOTION_SAYS[item.entry.payload.motion],
    item.needle_words,
    item.bobbin_words && `bobbin ${item.bobbin_words}`,
    item.entry.setup.sandwich?.batting,
  ]
    .filter(Boolean)
    .join(" · ");
const whyStale = (item: Item) =>
  listed(item.stale.map((why) => (why.since ? `${why.text} (${day(why.since)})` : why.text)));
</script>

<template>
  <div class="book">
    <BookSearch
      v-model:text="text"
      v-model:everywhere="everywhere"
      v-model:motion="motion"
      placeholder="Search: quilt, thread, batting"
      label="Search the recipe book" />
    <p v-if="use.problem.value" class="panel field-error" role="alert">{{ use.problem.value.message }}</p>
    <section v-if="compared" class="panel stack used" aria-live="polite">
      <h2>{{ compared.name }}: top {{ compared.setting_words }}</h2>
      <p v-if="!compared.moves.length" class="verdict">Nothing differs. Stitch a test, and go.</p>
      <ul>
        <li v-for="m in compared.moves" :key="m.what">
          <strong>{{ CHANGED[m.what] }}:</strong> from {{ m.before }} to {{ m.after }}
        </li>
      </ul>
    </section>
    <p v-if="items?.length === 0" class="panel verdict">
      {{ text ? "No recipe matches." : "No recipes yet. When a stitch is balanced, save it as a recipe." }}
    </p>
    <section v-for="item in items" :key="item.entry.id" class="panel recipe">
      <div>
        <h2>{{ nameOf(item) }}</h2>
        <p class="soft">{{ item.entry.machine }}, {{ day(item.entry.at) }}</p>
        <p v-if="item.stale.length" class="stale">◆ Test again first: {{ whyStale(item) }}</p>
      </div>
      <p>
        {{ (item.entry.setup.top ?? []).map((t) => t.name).join(" + ") }}
        <template v-if="item.entry.setup.bobbin">over {{ item.entry.setup.bobbin.name }}</template
        ><br />
        <span class="soft">{{ lineOf(item) }}</span>
        <RouterLink
          v-if="item.cloth"
          class="cloth"
          :to="{
            name: 'balance',
            params: { machine: item.entry.machine_id },
            query: { part: 'cloths', cloth: item.cloth },
          }"
          >cloth {{ item.cloth_number }}</RouterLink
        >
      </p>
      <p class="set">
        <strong>{{ item.setting_words }}</strong><span v-if="item.interval_words" class="soft"
          >{{ item.interval_words }}, {{ counted(looksOf(item), "test line") }}</span
        >
      </p>
      <div class="acts">
        <template v-if="item.entry.machine_id === machine">
          <Button
            label="Use this today"
            :loading="use.pending.value"
            :aria-label="`Use this today: ${nameOf(item)}`"
            @click="use.go(item)" />
          <Button label="What differs" text :aria-label="`What differs: ${nameOf(item)}`" @click="compare(item)" />
        </template>
        <a
          :href="`/api/recipes/${item.entry.id}/card.pdf?${printed()}`"
          target="_blank"
          :aria-label="`Card of ${nameOf(item)}, PDF`"
          >Card</a
        >
      </div>
    </section>
    <AsTable v-if="items?.length" path="/api/recipes.csv" :filter="query" />
    <Button
      v-if="hasNextPage"
      label="Earlier ones"
      severity="secondary"
      :loading="isFetchingNextPage"
      @click="fetchNextPage()" />
  </div>
</template>

<style scoped>
.book {
  display: grid;
  gap: 1rem;
  padding: 1.25rem;
  max-width: 1500px;
  margin: 0 auto;
}
.used {
  border-top-color: var(--marigold);
}
ul {
  margin: 0;
  padding-left: 1.2rem;
  font-size: var(--type-lead);
  display: grid;
  gap: 0.3rem;
}
.recipe {
  display: grid;
  grid-template-columns: 1.2fr 1.6fr auto auto;
  gap: 1.2rem;
  align-items: center;
}
.stale {
  color: var(--amber);
  font-weight: 600;
}
.cloth {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  margin-left: 0.5rem;
}
.set strong {
  font-size: var(--type-large);
  display: block;
  line-height: 1.1;
}
.set span {
  font-size: var(--type-small);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem;
  justify-content: flex-end;
  align-items: center;
}
.acts a {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  min-width: 44px;
  color: var(--ink);
}
@media (max-width: 900px) {
  .recipe {
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 600px) {
  .recipe {
    grid-template-columns: 1fr;
    gap: 0.5rem;
  }
  .acts {
    justify-content: flex-start;
  }
}
</style>
