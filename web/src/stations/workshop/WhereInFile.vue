<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { counted } from "../../words";

/** Which sheet of a file holds the table, and which row its headings; what was done to its cells and what they lack. */
const props = defineProps<{ table: Schemas["SeenTable"] }>();
const emit = defineEmits<{ look: [where: Schemas["WhereItStands"]] }>();

const sheets = computed(() =>
  props.table.sheets.map(({ name, hidden }) => ({ value: name, name: hidden ? `${name} (hidden)` : name })),
);
const heads = computed(() => [
  { value: 0, name: "it has none" },
  ...props.table.top.slice(0, -1).map(({ number, text }) => ({ value: number, name: `row ${number}: ${text}` })),
]);
const sheet = () => (props.table.sheets.length ? props.table.sheet : null);
/** Titles and notes over the headings, which are no rows. */
const above = computed(() => props.table.top.filter((row) => row.number < props.table.head));
</script>

<template>
  <div class="stack">
    <ToggleRow
      v-if="sheets.length > 1"
      :model-value="table.sheet"
      label="Sheet"
      :options="sheets"
      @update:model-value="emit('look', { sheet: $event, head: null })" />
    <ChoiceBox
      :model-value="table.head"
      label="Column headings"
      :options="heads"
      @update:model-value="emit('look', { sheet: sheet(), head: $event })" />
    <p v-if="above.length" class="soft">Not read: {{ above.map((row) => `“${row.text}”`).join(", ") }}</p>
    <p v-if="table.filled" class="soft">
      {{ counted(table.filled, "cell") }} below merged ones {{ table.filled === 1 ? "says" : "say" }} the same as those.
    </p>
    <p v-if="table.uncalculated.length" class="field-error">
      {{ table.uncalculated.join(", ") }}: a formula without a result. Open the file in your spreadsheet program, save
      it, and bring it in again.
    </p>
    <p v-if="table.both_marks" class="soft">
      Some numbers have a decimal point and some a comma. Each is read as it is.
    </p>
  </div>
</template>
