<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Schemas } from "../../api/client";
import { type ClothQuery, useCloth, useCloths } from "../../api/queries";
import { refDebounced } from "../../composables/debounce";
import { useMachineId } from "../../composables/machine";
import { day, MOTION_SAYS } from "../../words";
import BookSearch from "./BookSearch.vue";
import ClothCard from "./ClothCard.vue";
import ClothFromBox from "./ClothFromBox.vue";

/** Test cloths, found by the number on them or by what they hold; one of them open. */
const route = useRoute();
const router = useRouter();
const machine = useMachineId();
const text = ref("");
const searched = refDebounced(text, 120);
const everywhere = ref(false);
const motion = ref<Schemas["Motion"]>();
/** Digits alone are the number on a cloth; all else is searched for. */
const number = computed(() => (/^\d{1,5}$/.test(searched.value.trim()) ? Number(searched.value) : undefined));
const query = computed<ClothQuery>(() => ({
  number: number.value || undefined,
  text: number.value ? "" : searched.value,
  machine: everywhere.value ? undefined : machine.value,
  motion: motion.value,
}));
const { data: pages, fetchNextPage, hasNextPage, isFetchingNextPage } = useCloths(query);
const items = computed(() => pages.value?.pages.flatMap((page) => page.items));
const open = computed(() => Number(route.query.cloth) || null);
const { data: cloth, error } = useCloth(open);
const show = (id: number | null) =>
  void router.replace({ query: { ...route.query, part: "cloths", cloth: id ?? undefined } });
// A number that is typed whole and is the only one opens its cloth, once: what is closed stays closed.
let opened: number | undefined;
watch([number, items], ([typed, found]) => {
  if (!typed) opened = undefined;
  const only = found?.length === 1 ? found[0] : undefined;
  if (!typed || typed === opened || only?.number !== typed) return;
  opened = typed;
  show(only.id);
});
function close() {
  text.value = "";
  show(null);
}
const adding = ref(false);
</script>

<template>
  <div class="book">
    <BookSearch
      v-if="!open"
      v-model:text="text"
      v-model:everywhere="everywhere"
      v-model:motion="motion"
      placeholder="Number, or: thread, needle, batting"
      label="Find a cloth">
      <Button label="A cloth from the box" outlined @click="adding = !adding" />
    </BookSearch>
    <ClothFromBox
      v-if="adding && !open"
      :next="pages?.pages[0]?.next_number ?? 1"
      @noted="(id) => ((adding = false), show(id))"
      @leave="adding = false" />
    <p v-if="open && error" class="panel field-error" role="alert">{{ error.message }}</p>
    <ClothCard v-if="open && cloth" :key="cloth.id" :cloth="cloth" :others="items ?? []" @close="close" />
    <p v-if="!open && items?.length === 0" class="panel verdict">
      {{
        text || motion
          ? "No cloth matches."
          : "No test cloth yet. Judge a test strip under Find the balance, and its cloth gets a number."
      }}
    </p>
    <ul v-if="!open && items?.length" class="panel cloths">
      <li v-for="item in items" :key="item.id">
        <button type="button" @click="show(item.id)">
          <strong class="number">{{ item.number }}</strong>
          <span class="what">
            <strong>{{ item.top || "no thread on record" }}</strong>
            <span class="soft">{{
              [item.bobbin && `over ${item.bobbin}`, item.needle, item.batting].filter(Boolean).join(" · ")
            }}</span>
            <span v-if="item.face_down" class="soft">Bobbin work, {{ item.face_down }}</span>
          </span>
          <span class="found">
            <span v-for="r in item.rows" :key="r.motion"
              >{{ MOTION_SAYS[r.motion] }}: <strong>{{ r.found.text }}</strong></span
            >
            <span v-if="!item.rows.length" class="soft">not judged yet</span>
          </span>
          <span class="soft">{{ item.machine }}, {{ day(item.at) }}<template v-if="item.on">, on now</template></span>
        </button>
      </li>
    </ul>
    <Button
      v-if="!open && hasNextPage"
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
.cloths {
  list-style: none;
  margin: 0;
  padding-block: 0.4rem;
}
.cloths li + li {
  border-top: 1px solid var(--rule);
}
.cloths button {
  display: grid;
  grid-template-columns: 4rem 1.4fr 1.4fr auto;
  gap: 1rem;
  align-items: center;
  width: 100%;
  min-height: 56px;
  padding: 0.4rem 0;
  border: 0;
  background: none;
  text-align: left;
}
.number {
  font-size: var(--type-head);
}
.what,
.found {
  display: grid;
}
@media (max-width: 700px) {
  .cloths button {
    grid-template-columns: 3rem 1fr;
  }
  .cloths button > :nth-child(n + 3) {
    grid-column: 2;
  }
}
</style>
