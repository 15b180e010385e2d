<script setup lang="ts">
import Dialog from "primevue/dialog";
import { computed } from "vue";
import { useRoute } from "vue-router";
import { useProcedures } from "../api/queries";
import { useMachineId } from "../composables/machine";
import { STATIONS } from "../router";

/** What this station is for, the words that stand on it, every other word, and the keys. */
const { data } = useProcedures(useMachineId());
const route = useRoute();
const help = computed(() => data.value?.help.find((h) => h.station === route.name));
const mine = computed(() => (data.value?.terms ?? []).filter((t) => help.value?.words.includes(t.term)));
const others = computed(() => (data.value?.terms ?? []).filter((t) => !help.value?.words.includes(t.term)));
const title = computed(() => STATIONS.find((s) => s.station === route.name)?.name ?? "Help");

const open = defineModel<boolean>({ required: true });
</script>

<template>
  <Dialog v-model:visible="open" modal :header="title" :style="{ width: '40rem' }">
    <ol v-if="help">
      <li v-for="s in help.says" :key="s">{{ s }}</li>
    </ol>
    <dl v-if="mine.length" class="terms">
      <template v-for="t in mine" :key="t.term">
        <dt>{{ t.term }}</dt>
        <dd>{{ t.says }}</dd>
      </template>
    </dl>
    <details>
      <summary>Every other word</summary>
      <dl class="terms">
        <template v-for="t in others" :key="t.term">
          <dt>{{ t.term }}</dt>
          <dd>{{ t.says }}</dd>
        </template>
      </dl>
    </details>
    <h2>Keys</h2>
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
      <dd>This help</dd>
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
dl.terms {
  grid-template-columns: 8rem 1fr;
  gap: 0.3rem 1rem;
}
.terms dt {
  font-weight: 650;
}
ol {
  margin: 0 0 1rem;
  padding-left: 1.3rem;
}
h2 {
  margin: 0.8rem 0 0.5rem;
}
dd {
  margin: 0;
}
@media (max-width: 560px) {
  dl.terms {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
kbd {
  font: inherit;
  font-weight: 700;
  border: 2px solid var(--rule);
  border-radius: 4px;
  padding: 0.1rem 0.6rem;
}
</style>
