<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import { useMachine, useMachineId } from "../../composables/machine";
import { useMachineChange } from "../../composables/send";
import ToggleRow from "../../parts/ToggleRow.vue";
import { percent } from "../../words";

/** How well an eye tells the five grades, and whether the balance estimate goes by it. */
const props = defineProps<{ page: Schemas["PracticePage"] }>();
const machine = useMachineId();
const { data: words } = useWords();
const item = useMachine();
const nickname = computed(() => item.value?.spec.nickname ?? "");
const nameOf = (grade: number) => words.value?.grades.find((g) => g.grade === grade)?.name ?? String(grade);
const change = useMachineChange(machine, { says: () => "Taken." });
const used = computed({
  get: () => props.page.eye_used,
  set: (on) => void change.go({ reader: on ? props.page.person : "" }),
});
const enough = computed(() => props.page.looks >= props.page.eye_from);
</script>

<template>
  <section class="panel stack">
    <h2>{{ page.person }}'s eye, from {{ page.looks }} practice lines</h2>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th scope="col">There was</th>
            <th v-for="g in page.eye" :key="g.grade" scope="col" class="num">
              {{ g.grade > 0 ? `+${g.grade}` : g.grade }}
            </th>
            <th scope="col" class="num">right, 19 times in 20</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in page.eye" :key="row.grade">
            <th scope="row">{{ nameOf(row.grade) }}</th>
            <td v-for="(count, n) in row.read" :key="n" class="num" :class="{ own: n === row.grade + 2 }">
              {{ count || "" }}
            </td>
            <td class="num">
              <template v-if="row.right != null"
                >{{ percent(row.right) }}, {{ percent(row.low) }} to {{ percent(row.high) }}</template
              ><template v-else>not yet seen</template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ToggleRow
      v-if="enough"
      v-model="used"
      :label="`The balance estimate on ${nickname}`"
      :options="[
        { value: false, name: 'takes a test line as it reads' },
        { value: true, name: `goes by ${page.person}'s eye` },
      ]" />
    <p v-else class="soft">
      After {{ page.eye_from }} practice lines the balance can go by this eye: {{ page.eye_from - page.looks }} to go.
    </p>
  </section>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 0.35rem 0.4rem;
  border-bottom: 1px solid var(--rule);
  font-weight: 500;
}
.num {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.own {
  background: var(--amber-wash);
  font-weight: 700;
}
</style>
