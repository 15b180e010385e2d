<script setup lang="ts">
import InputText from "primevue/inputtext";
import type { Schemas } from "../../api/client";
import ToggleRow from "../../parts/ToggleRow.vue";

/** Finds what is kept of balances: by words, on this machine or on all, in one motion or in any. */
defineProps<{ placeholder: string; label: string }>();
const text = defineModel<string>("text", { required: true });
const everywhere = defineModel<boolean>("everywhere", { required: true });
const motion = defineModel<Schemas["Motion"] | undefined>("motion", { required: true });
</script>

<template>
  <section class="panel row">
    <InputText v-model="text" data-search :placeholder="placeholder" :aria-label="label" class="search" />
    <ToggleRow
      v-model="everywhere"
      label="Machines"
      :options="[
        { value: false, name: 'this one' },
        { value: true, name: 'all' },
      ]" />
    <ToggleRow
      v-model="motion"
      label="Motion"
      :options="[
        { value: undefined, name: 'any' },
        { value: 'free_motion', name: 'free-motion' },
        { value: 'straight', name: 'straight' },
        { value: 'decorative', name: 'decorative' },
      ]" />
    <slot />
  </section>
</template>

<style scoped>
.search {
  flex: 1 1 16rem;
  align-self: end;
}
</style>
