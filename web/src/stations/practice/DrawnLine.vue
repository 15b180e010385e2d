<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";

/** A stitched line as the server drew it, front above back. */
const props = defineProps<{ picture: Schemas["Picture"] }>();
const source = computed(() => `data:image/svg+xml;utf8,${encodeURIComponent(props.picture.svg)}`);
</script>

<template>
  <div class="drawn"><img :src="source" :alt="picture.words" /></div>
</template>

<style scoped>
.drawn {
  overflow-x: auto;
}
img {
  display: block;
  width: 100%;
  /* On a phone it is drawn along under the finger. */
  min-width: 36rem;
}
</style>
