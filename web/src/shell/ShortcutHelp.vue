<script setup lang="ts">
import Dialog from "primevue/dialog";
import { STATIONS } from "../router";

const open = defineModel<boolean>({ required: true });
</script>

<template>
  <Dialog v-model:visible="open" modal header="Keys" :style="{ width: '26rem' }">
    <dl>
      <template v-for="s in STATIONS" :key="s.station">
        <dt>
          <kbd>{{ s.digit }}</kbd>
        </dt>
        <dd>{{ s.name }}</dd>
      </template>
      <dt><kbd>w</kbd></dt>
      <dd>It went wrong</dd>
      <dt><kbd>/</kbd></dt>
      <dd>Search this station</dd>
      <dt><kbd>n</kbd></dt>
      <dd>New record here</dd>
      <dt><kbd>?</kbd></dt>
      <dd>These keys</dd>
    </dl>
  </Dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 3rem 1fr;
  gap: 0.6rem;
  margin: 0;
}
dd {
  margin: 0;
}
kbd {
  font: inherit;
  font-weight: 700;
  border: 2px solid var(--rule);
  border-radius: 4px;
  padding: 0.1rem 0.6rem;
}
</style>
