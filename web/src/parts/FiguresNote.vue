<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useMachineItem } from "../api/queries";
import { useMachineId } from "../composables/machine";
import { STANDING } from "../words";

/** Where the numbers of a screen come from, one tap away. */
const props = defineProps<{ subject: Schemas["FigureSubject"] }>();
const machine = useMachineId();
const item = useMachineItem(machine);
const open = ref(false);
const { data } = useQuery({
  queryKey: computed(() => ["words", "figures", props.subject, machine.value, item.value?.version]),
  queryFn: () =>
    answer(client.GET("/api/words/figures", { params: { query: { subject: props.subject, machine: machine.value } } })),
  enabled: open,
  staleTime: Infinity,
});
/** What a person has a name for; the rest are settings of the arithmetic. */
const named = computed(() => data.value?.filter((f) => f.says));
/** How far it can be trusted, and by what, where that says more than it. */
function says({ standing, source }: Schemas["Known"]) {
  const trusted = STANDING[standing];
  if (!source || standing === "common_practice" || source === "our own estimate") return trusted;
  return source.startsWith(trusted) ? source : `${trusted}: ${source}`;
}
</script>

<template>
  <details @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Where these numbers come from</summary>
    <table>
      <tbody>
        <tr v-for="f in named" :key="f.says">
          <td>{{ f.says }}</td>
          <td class="value">{{ f.reads }}</td>
          <td class="soft">
            {{ says(f.known) }}
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
table {
  border-collapse: collapse;
  font-size: var(--type-small);
  width: 100%;
}
td {
  padding: 0.25rem 0.6rem 0.25rem 0;
  border-top: 1px solid var(--rule);
  vertical-align: top;
}
.value {
  white-space: nowrap;
  font-weight: 620;
}
@media (max-width: 40rem) {
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    border-top: 1px solid var(--rule);
  }
  td {
    border: 0;
    padding-bottom: 0.1rem;
  }
  .soft {
    grid-column: 1 / -1;
    padding-top: 0;
  }
}
</style>
