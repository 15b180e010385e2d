<script setup lang="ts">
import { computed, nextTick, onMounted, ref, useTemplateRef } from "vue";
import { useWords } from "../../api/queries";
import SeenMark from "../../diagrams/SeenMark.vue";

/**
 * A row of a test cloth: a column a step, looser to tighter, and one tap where the stitch looks so. It is one stop for
 * the Tab key; arrows walk it.
 */
const props = defineProps<{
  settings: number[];
  graded: Record<number, number>;
  named: (setting: number) => string;
  top: string;
  bobbin: string;
  /** A step that goes between this one and the next; none where it can't. */
  between?: (index: number) => number | null;
}>();
const emit = defineEmits<{ tap: [setting: number, grade: number]; insert: [setting: number] }>();
/** What is looked for, from too loose on top to too tight, as one goes down the board. */
const GRADES = [2, 1, 0, -1, -2];
const { data: words } = useWords();
const nameOf = (grade: number) => words.value?.grades.find((g) => g.grade === grade)?.name ?? "";

const board = useTemplateRef<HTMLElement>("board");
const at = ref({ column: 0, row: 2 });
const here = computed(() => ({
  column: Math.min(at.value.column, Math.max(0, props.settings.length - 1)),
  row: at.value.row,
}));
/** Where it does not fit, it begins at the lines that are judged. */
onMounted(() => {
  const judged = [...(board.value?.querySelectorAll<HTMLElement>("td:has([aria-pressed='true'])") ?? [])];
  const names = board.value?.querySelector<HTMLElement>("tbody th");
  if (board.value && names && judged.length)
    board.value.scrollLeft = Math.min(...judged.map((cell) => cell.offsetLeft)) - 1.5 * names.offsetWidth;
});
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
async function walk(event: KeyboardEvent) {
  const step = STEPS[event.key];
  if (!step) return;
  event.preventDefault();
  const clamp = (n: number, most: number) => Math.max(0, Math.min(most, n));
  at.value = {
    column: clamp(here.value.column + step[0], props.settings.length - 1),
    row: clamp(here.value.row + step[1], GRADES.length - 1),
  };
  await nextTick();
  board.value?.querySelector<HTMLElement>(".cell[tabindex='0']")?.focus();
}
</script>

<template>
  <div ref="board" class="board">
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="sr">What you see</span></th>
          <th v-for="(s, i) in settings" :key="s" scope="col">
            {{ named(s) }}
            <button
              v-if="between && i < settings.length - 1 && between(i) !== null"
              type="button"
              class="between"
              tabindex="-1"
              :aria-label="`A step between ${named(s)} and ${named(settings[i + 1] ?? s)}`"
              @click="emit('insert', between(i) ?? s)">
              +
            </button>
          </th>
        </tr>
      </thead>
      <tbody @keydown="walk">
        <tr v-for="(g, row) in GRADES" :key="g">
          <th scope="row">{{ nameOf(g) }}</th>
          <td v-for="(s, column) in settings" :key="s">
            <button
              type="button"
              class="cell"
              :class="{ balanced: g === 0 }"
              :tabindex="here.column === column && here.row === row ? 0 : -1"
              :aria-pressed="graded[s] === g"
              :aria-label="`${named(s)}: ${nameOf(g)}`"
              @focus="at = { column, row }"
              @click="emit('tap', s, g)">
              <SeenMark :grade="g" :top="top" :bobbin="bobbin" :faint="graded[s] !== g" />
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.board {
  overflow-x: auto;
  background: var(--cloth);
  border-radius: 4px;
  padding: 0.4rem 0.6rem 0.6rem 0;
}
table {
  border-collapse: collapse;
  width: 100%;
}
thead th {
  position: relative;
  font-weight: 700;
  padding: 0 0 0.2rem;
  min-width: 48px;
}
/* The names of what is seen stay in sight however far the scale runs. */
th[scope="row"],
thead th:first-child {
  position: sticky;
  left: 0;
  z-index: 2;
  background: var(--cloth);
  padding-left: 0.6rem;
}
th[scope="row"] {
  text-align: left;
  font-weight: 560;
  font-size: var(--type-small);
  line-height: 1.1;
  padding-right: 0.5rem;
  min-width: 6.5rem;
}
.between {
  position: absolute;
  z-index: 1;
  right: -22px;
  top: -10px;
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font-weight: 700;
  font-size: var(--type-lead);
}
td {
  padding: 1px;
  text-align: center;
}
.cell {
  width: 100%;
  min-width: 46px;
  min-height: 46px;
  border: 2px solid transparent;
  border-radius: 4px;
  background: none;
  padding: 0;
}
.cell.balanced {
  background: color-mix(in srgb, var(--panel) 55%, transparent);
}
.cell[aria-pressed="true"] {
  border-color: var(--ink);
  background: var(--panel);
}
</style>
