<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { leaveOut, outbox, sendWaiting, tryAgain } from "../api/outbox";
import { askAnew } from "../api/queries";
import { time } from "../words";

/** What was noted while the server was away, until it is out; a refused one with its reason. */
const queries = useQueryClient();
async function again(key: string) {
  tryAgain(key);
  if (await sendWaiting()) await askAnew(queries);
}
</script>

<template>
  <aside v-if="outbox.waiting.length" class="waiting" aria-label="Waits for the server" role="status">
    <p>
      <strong>{{ outbox.waiting.length }} noted here, not yet in the log.</strong> It goes out by itself, in order, as
      soon as the server answers.
    </p>
    <ul>
      <li v-for="each in outbox.waiting" :key="each.key">
        <span>{{ time(each.at) }} · {{ each.words }}</span>
        <template v-if="each.why">
          <span class="why">{{ each.why }} What was noted after it waits.</span>
          <button type="button" @click="again(each.key)">Try again</button>
          <button type="button" @click="leaveOut(each.key)">Leave it out</button>
        </template>
      </li>
    </ul>
  </aside>
</template>

<style scoped>
.waiting {
  background: var(--amber-wash);
  border-bottom: 3px solid var(--marigold);
  padding: 0.5rem 1.25rem;
}
ul {
  list-style: none;
  margin: 0.3rem 0 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1rem;
  align-items: center;
}
.why {
  color: var(--vermilion);
  font-weight: 600;
}
button {
  min-height: 44px;
  padding: 0 0.8rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
}
</style>
