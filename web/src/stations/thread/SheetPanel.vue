<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, client } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import { PAPER_SAYS, papers } from "../../locale";
import { onPaper } from "../../units";

/** Every thread that is owned with what it wants on this machine, and the same on paper to hang beside it. */
const machine = useMachineId();
const here = useHere();
const { data } = useQuery({
  queryKey: computed(() => ["threads-sheet", machine.value]),
  queryFn: () => answer(client.GET("/api/machines/{machine_id}/threads-sheet", here())),
});
const paper = (kind: string) => `/api/machines/${machine.value}/threads-sheet.pdf?${onPaper(kind)}`;
</script>

<template>
  <section v-if="data" class="panel stack">
    <p class="links">
      To hang by the machine:
      <a v-for="size in papers" :key="size" :href="paper(size)" target="_blank">Print on {{ PAPER_SAYS[size] }}</a>
    </p>
    <p v-if="!data.length" class="verdict">No thread in the drawer yet.</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">Thread</th>
          <th scope="col">Needle</th>
          <th scope="col">Below</th>
          <th scope="col">Top starts</th>
          <th v-if="data[0]?.holes !== '–'" scope="col">Holes</th>
          <th scope="col">Mind</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in data" :key="r.name">
          <th scope="row">
            <span class="swatch" :style="{ background: r.color }" aria-hidden="true" />
            <span
              >{{ r.name }}<span class="soft line">{{ r.words }}</span></span
            >
          </th>
          <td data-label="Needle ">{{ r.needle }}</td>
          <td data-label="Below ">{{ r.below }}</td>
          <td class="start" data-label="Top starts ">
            {{ r.start }}<span class="soft line">{{ r.start_from }}</span>
          </td>
          <td v-if="data[0]?.holes !== '–'" data-label="Guide holes ">{{ r.holes }}</td>
          <td class="soft">{{ r.handling }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.panel {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 600;
  padding: 0.3rem 0.6rem 0.3rem 0;
}
td {
  padding: 0.3rem 0.6rem 0.3rem 0;
}
tbody tr {
  border-top: 1px solid var(--rule);
}
th[scope="row"] {
  display: flex;
  gap: 0.6rem;
  align-items: center;
}
.swatch {
  flex: none;
  width: 26px;
  height: 26px;
  border: 1px solid #0006;
  border-radius: 50%;
}
.line {
  display: block;
  font-size: var(--type-small);
  font-weight: 400;
}
.start {
  font-size: var(--type-head);
  font-weight: 700;
}
.links a {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  min-width: 44px;
  color: var(--ink);
}
@media (max-width: 700px) {
  thead {
    display: none;
  }
  table,
  tbody,
  tr,
  th,
  td {
    display: block;
  }
  tr {
    padding: 0.4rem 0;
  }
  td {
    padding: 0 0 0 2.3rem;
  }
  [data-label]::before {
    content: attr(data-label);
    font-size: var(--type-small);
    font-weight: 400;
    color: var(--ink-soft);
  }
}
</style>
