<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import { CHANGED, day, MOTION_SAYS } from "../../words";

/** Two cloths side by side: what they were stitched with, and what moved. */
const props = defineProps<{ cloth: Schemas["ClothItem"]; others: Schemas["ClothItem"][] }>();
const NONE = 0;
const other = ref(NONE);
const choices = computed(() => [
  { value: NONE, name: "none" },
  ...props.others
    .filter((o) => o.id !== props.cloth.id)
    .map((o) => ({ value: o.id, name: `cloth ${o.number}, ${o.machine}, ${day(o.at)}` })),
]);
const { data } = useQuery({
  queryKey: computed(() => ["cloths beside", props.cloth.id, other.value]),
  queryFn: () =>
    answer(
      client.GET("/api/cloths/{cloth_id}/beside/{other_id}", {
        params: { path: { cloth_id: props.cloth.id, other_id: other.value } },
      }),
    ),
  enabled: () => other.value !== NONE,
});
</script>

<template>
  <div v-if="choices.length > 1" class="stack">
    <ChoiceBox v-model="other" label="Beside another cloth" :options="choices" />
    <template v-if="data && other !== NONE">
      <p v-if="data.says">{{ data.says }}</p>
      <div class="scroll">
        <table class="beside">
          <thead>
            <tr>
              <th scope="col"><span class="sr">What</span></th>
              <th scope="col">Cloth {{ data.first.number }}</th>
              <th scope="col">Cloth {{ data.second.number }}</th>
              <th scope="col">Moved</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="d in data.differences" :key="d.what">
              <th scope="row">{{ CHANGED[d.what] }}</th>
              <td>{{ d.before }}</td>
              <td>{{ d.after }}</td>
              <td></td>
            </tr>
            <tr v-for="r in data.rows" :key="r.motion">
              <th scope="row">{{ MOTION_SAYS[r.motion] }}</th>
              <td>{{ r.first }}</td>
              <td>{{ r.second }}</td>
              <td>
                <strong>{{ r.moved }}</strong>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.beside {
  border-collapse: collapse;
  width: 100%;
}
.beside th,
.beside td {
  text-align: left;
  padding: 0.4rem 0.8rem 0.4rem 0;
  border-bottom: 1px solid var(--rule);
}
</style>
