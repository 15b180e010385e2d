<script setup lang="ts">
import AutoComplete, { type AutoCompleteCompleteEvent } from "primevue/autocomplete";
import { ref, useId } from "vue";
import { answer, client } from "../api/client";

/** A thread of the drawer, found by its words; the server searches, so that a large drawer has no end here. */
const props = defineProps<{ label: string; known?: string; error?: string }>();
const value = defineModel<number>({ required: true });
interface Choice {
  value: number;
  name: string;
}
const id = useId();
const found = ref<Choice[]>([]);
/** Nothing is said to be missing before it is looked for. */
const asked = ref(false);
const chosen = ref<Choice | string | null>(props.known ? { value: value.value, name: props.known } : null);

async function search({ query: text }: AutoCompleteCompleteEvent) {
  const page = await answer(client.GET("/api/threads", { params: { query: { text, limit: 40 } } })).catch(() => null);
  asked.value = true;
  found.value = (page?.items ?? []).map((t) => ({ value: t.id, name: `${t.spec.name} (${t.words})` }));
}
function choose(choice: Choice | string | null) {
  if (choice && typeof choice === "object") value.value = choice.value;
}
</script>

<template>
  <div class="field-group">
    <label :for="id" class="soft">{{ label }}</label>
    <AutoComplete
      v-model="chosen"
      :input-id="id"
      :suggestions="found"
      option-label="name"
      dropdown
      force-selection
      complete-on-focus
      placeholder="Name, fiber, weight"
      fluid
      :empty-search-message="asked ? 'No such thread' : ' '"
      :pt="{ dropdown: { 'aria-label': `Show threads for: ${label}` } }"
      @complete="search"
      @update:model-value="choose" />
    <span v-if="error" class="field-error" role="alert">{{ error }}</span>
  </div>
</template>
