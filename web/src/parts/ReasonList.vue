<script setup lang="ts">
import type { Schemas } from "../api/client";
import { STANDING } from "../words";

/** Why the answer is what it is; the standing of each reason is in words beside it. */
defineProps<{ reasons: readonly Schemas["Reason"][] }>();
</script>

<template>
  <ul>
    <li v-for="reason in reasons" :key="reason.text">
      {{ reason.text }}
      <span class="standing"
        >{{ STANDING[reason.standing ?? "common_practice"]
        }}<template v-if="reason.source">: {{ reason.source }}</template></span
      >
    </li>
  </ul>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 0.6rem;
}
li {
  padding-left: 0.8rem;
  border-left: 3px dashed var(--rule);
  line-height: 1.35;
}
.standing {
  display: block;
  color: var(--ink-soft);
  font-size: var(--type-small);
}
</style>
