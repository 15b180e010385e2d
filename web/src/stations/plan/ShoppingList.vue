<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useShopping } from "../../api/queries";
import { useHere, useMachine } from "../../composables/machine";
import { useSend } from "../../composables/send";
import { fixed } from "../../words";

/** What to buy for all planned quilts; ticked off, it is in the drawer. */
const { data: items } = useShopping();
const here = useHere();
const machine = useMachine();
const tick = useSend(
  (item: Schemas["ShoppingItem"]) =>
    answer(
      client.POST("/api/machines/{machine_id}/bought", {
        ...here(),
        body: {
          what: item.what,
          count: item.count,
          thread: item.thread,
          metric: item.needle?.metric ?? null,
          american: item.needle?.american ?? null,
          point: item.point,
          lot: "",
          system: item.needle ? (machine.value?.spec.needle_system ?? "") : "",
        },
      }),
    ),
  { says: () => "It's in your drawer now." },
);
const price = computed(() => (items.value ?? []).reduce((sum, item) => sum + (item.price ?? 0), 0));
</script>

<template>
  <section v-if="items" class="panel stack" aria-labelledby="shopping-title">
    <h2 id="shopping-title">To buy</h2>
    <p v-if="!items.length" class="soft">Nothing: what you have lasts for every plan.</p>
    <ul v-else>
      <li v-for="item in items" :key="item.words">
        <div>
          <strong>{{ item.words }}</strong>
          <p class="soft">{{ item.why }} For {{ item.quilts.join(", ") }}.</p>
        </div>
        <Button label="Bought" outlined :aria-label="`Bought: ${item.words}`" @click="tick.go(item)" />
      </li>
    </ul>
    <p v-if="price" class="soft">About {{ fixed(price, 2) }}, as far as prices are known.</p>
    <p v-if="tick.problem.value" class="field-error" role="alert">{{ tick.problem.value.message }}</p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0.6rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
p {
  font-size: var(--type-small);
}
</style>
