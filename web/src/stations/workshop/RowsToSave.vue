<script setup lang="ts">
import type { Schemas } from "../../api/client";

/** Rows of a table as they would be saved, beside what the file says; a label that asks has its readings to tap. */
defineProps<{ rows: Schemas["ShownRow"][] }>();
const emit = defineEmits<{ meant: [row: Schemas["ShownRow"], reading: number] }>();
const why = (row: Schemas["ShownRow"]) =>
  row.same_as ? `says the same as row ${row.same_as}, left out` : "here already, left out";
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Rows as they would be saved">
    <table>
      <thead>
        <tr>
          <th scope="col">Row</th>
          <th scope="col">As it would be saved</th>
          <th scope="col">In the file</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.number">
          <th scope="row">{{ r.number }}</th>
          <td>
            <template v-if="r.asks.length">
              <span class="field-error">Which is meant?</span>
              <div class="asks">
                <button
                  v-for="(reading, n) in r.asks"
                  :key="reading"
                  type="button"
                  class="toggle"
                  @click="emit('meant', r, n)">
                  {{ reading }}
                </button>
              </div>
            </template>
            <span v-else-if="r.problem" class="field-error">{{ r.problem }}</span>
            <span v-else-if="r.aside" class="soft">{{ r.aside }}</span>
            <template v-else
              >{{ r.text }}<span v-if="r.double" class="soft"> · {{ why(r) }}</span></template
            >
          </td>
          <td class="soft">{{ r.cells.filter(Boolean).join(" · ") }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 34rem;
  overflow: auto;
  border-top: 1px solid var(--rule);
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 0.4rem 0.6rem 0.4rem 0;
  border-bottom: 1px solid var(--rule);
}
tbody th {
  font-weight: 500;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
  margin-top: 0.25rem;
}
</style>
