<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { useWords } from "../../api/queries";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { stretchUnit } from "../../units";
import { choices, fixed } from "../../words";
import HandTests from "./HandTests.vue";
import { labeled, type LabelFields } from "./labelFields";

/** Everything a label may say beside its name, and the weight read in every system. */
const props = defineProps<{ owned: boolean; refused: (field: string) => string | undefined }>();
const form = defineModel<LabelFields>({ required: true });
const { data: words } = useWords();
const RATINGS = [
  { value: null as number | null, name: "none" },
  ...[1, 2, 3, 4, 5].map((n) => ({ value: n, name: `${n}` })),
];
const HOLES = [
  { value: null as number | null, name: "as usual" },
  ...[1, 2, 3].map((n) => ({ value: n, name: `${n}` })),
];
const written = computed(() => {
  const { fiber, construction, value, system, strands, perStrand } = form.value;
  return [fiber, construction, value, system, strands, perStrand];
});

/** The label read in every system while it is being typed. */
const read = ref<Schemas["Density"] | null>(null);
const unread = ref<Problem | null>(null);
let asked = 0;
watch(
  written,
  async () => {
    const mine = ++asked;
    if (!form.value.value) {
      read.value = unread.value = null;
      return;
    }
    try {
      const density = await answer(client.POST("/api/compute/linear-density", { body: labeled(form.value) }));
      if (mine === asked) [read.value, unread.value] = [density, null];
    } catch (problem) {
      if (mine === asked) [read.value, unread.value] = [null, problem as Problem];
    }
  },
  { immediate: true },
);
const error = (field: string) => props.refused(field) ?? unread.value?.fields[field];
</script>

<template>
  <div class="grid">
    <ChoiceBox v-model="form.fiber" label="Fiber" :options="choices(words?.fibers)" :error="error('fiber')" />
    <ChoiceBox
      v-model="form.construction"
      label="Construction"
      :options="choices(words?.constructions)"
      :error="error('construction')" />
    <ChoiceBox v-model="form.finish" label="Finish" :options="choices(words?.finishes)" />
    <ChoiceBox v-model="form.form" label="Form" :options="choices(words?.forms)" />
    <FieldBox label="Number on the label" :error="error('value')"
      ><InputText v-model="form.value" inputmode="decimal" :invalid="!!error('value')"
    /></FieldBox>
    <ChoiceBox v-model="form.system" label="System" :options="choices(words?.systems)" :error="error('system')" />
    <FieldBox label="Strands" :error="error('strands')"
      ><InputText v-model="form.strands" inputmode="numeric" @input="form.perStrand = null"
    /></FieldBox>
    <FieldBox label="Plies" :error="error('plies')"><InputText v-model="form.plies" inputmode="numeric" /></FieldBox>
    <div class="all read" aria-live="polite">
      <p v-if="read">
        <strong>{{ fixed(read.tex, 1) }} tex</strong> · {{ fixed(read.wt, 1) }} wt · {{ fixed(read.denier) }} denier ·
        {{ fixed(read.dtex) }} dtex · Ne {{ fixed(read.ne, 1) }}
        <template v-if="read.diameter_mm"> · {{ fixed(read.diameter_mm, 2) }} mm thick</template>
      </p>
      <div v-if="read?.ask || form.perStrand !== null" class="ask">
        <span>{{ read?.ask || "The number is that of" }}</span>
        <button type="button" :aria-pressed="form.perStrand === false" @click="form.perStrand = false">
          the whole thread
        </button>
        <button type="button" :aria-pressed="form.perStrand === true" @click="form.perStrand = true">one strand</button>
      </div>
    </div>
    <FieldBox :label="`On it when new, ${stretchUnit()}`" :error="error('length_m')"
      ><InputText v-model="form.meters" inputmode="decimal"
    /></FieldBox>
    <FieldBox label="Price" :error="error('price')"><InputText v-model="form.price" inputmode="decimal" /></FieldBox>
    <FieldBox label="Bought" :error="error('bought')"
      ><input v-model="form.bought" type="date" class="plain-input"
    /></FieldBox>
    <FieldBox label="Needle its maker names" :error="error('needle_named')"
      ><InputText v-model="form.needle" placeholder="90/14 topstitch"
    /></FieldBox>
    <ToggleRow v-model="form.rating" label="Your rating" :options="RATINGS" class="half" />
    <ToggleRow v-model="form.holes" label="Guide holes that work, by trial" :options="HOLES" class="half" />
    <FieldBox label="Another color of (if you own several)" :error="error('line')" class="half"
      ><InputText v-model="form.line" placeholder="the thread's name without the color"
    /></FieldBox>
    <FieldBox label="Note" :error="error('note')" class="half"><InputText v-model="form.note" /></FieldBox>
    <HandTests v-model="form.tests" class="all" />
    <p v-if="owned" class="soft all">
      A correction reaches every record of this thread. Colors of one thread share test lines, readings and recipes. Say
      on each what it is a color of.
    </p>
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 0.9rem;
  align-items: start;
  padding-top: 0.6rem;
}
.half {
  grid-column: span 2;
}
.all {
  grid-column: 1 / -1;
}
.read {
  font-size: var(--type-lead);
  min-height: 1.6rem;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
  align-items: center;
  color: var(--amber);
  font-weight: 600;
}
.ask button {
  min-height: 44px;
  border: 2px solid var(--rule);
  background: var(--panel);
  border-radius: 4px;
  padding: 0 0.9rem;
  color: var(--ink);
}
.ask button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
