<script setup lang="ts">
import { computed } from "vue";
import { unprinted } from "../words";

/** A field under its label, with what is wrong with it; `name` is what it says where that goes on paper. */
const props = defineProps<{ label: string; error?: string; name?: string }>();
const missing = computed(() => unprinted(props.name ?? ""));
</script>

<template>
  <label class="field">
    <span>{{ label }}</span>
    <slot />
    <span v-if="missing" class="soft" role="status"
      >Paper shows dots for “<bdi>{{ missing }}</bdi
      >”.</span
    >
    <span v-if="error" class="field-error" role="alert">{{ error }}</span>
  </label>
</template>
