<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, reactive, ref } from "vue";
import { fieldsOf, withField } from "../api/describe";
import { leaveOut, outbox, sendWaiting, tryAgain, type Waiting } from "../api/outbox";
import { askAnew } from "../api/queries";
import { time } from "../words";

/** What was noted while the server was away, until it is out; a refused one with its reason, to be mended. */
const queries = useQueryClient();
const mended = ref("");
const typed = reactive<Record<string, string>>({});

function mend(each: Waiting) {
  mended.value = mended.value === each.key ? "" : each.key;
  for (const field of Object.keys(typed)) Reflect.deleteProperty(typed, field);
  for (const [field, value] of fieldsOf(each.body)) typed[field] = String(value);
}
async function again(each: Waiting) {
  let { body } = each;
  if (mended.value === each.key)
    for (const [field, value] of fieldsOf(body))
      if (typed[field] !== String(value)) body = withField(body, field, typed[field] ?? "");
  mended.value = "";
  await tryAgain(each.key, body);
  if (await sendWaiting()) await askAnew(queries);
}
const refused = computed(() => outbox.waiting.some((each) => each.why));
const named = (field: string) => field.replace(/_/g, " ");
</script>

<template>
  <aside v-if="outbox.waiting.length" class="waiting" aria-label="Waits for the server" role="status">
    <p>
      <strong>{{ outbox.waiting.length }} not sent yet.</strong>
      {{
        outbox.outlives
          ? refused
            ? "Change the one in red or leave it out. What came after it on the same machine waits."
            : "Saved in this browser. They go out in order when the server is back."
          : "This browser can't save for later. Leave this page open until the server is back."
      }}
    </p>
    <ul>
      <li v-for="each in outbox.waiting" :key="each.key">
        <span>{{ time(each.at) }} · {{ each.words }}</span>
        <template v-if="each.why">
          <span class="why">{{ each.why }}</span>
          <form v-if="mended === each.key" @submit.prevent="again(each)">
            <label v-for="[field] in fieldsOf(each.body)" :key="field"
              >{{ named(field) }}
              <input v-model="typed[field]" :aria-invalid="field === each.field" autocomplete="off" />
            </label>
            <button type="submit">Send it</button>
          </form>
          <template v-else>
            <button v-if="fieldsOf(each.body).length" type="button" @click="mend(each)">Change it</button>
            <button type="button" @click="again(each)">Try again</button>
          </template>
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
li,
form {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1rem;
  align-items: center;
}
.why {
  color: var(--vermilion);
  font-weight: 600;
}
button,
input {
  min-height: 44px;
  padding: 0 0.8rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
}
input {
  width: 9rem;
  color: inherit;
}
input[aria-invalid="true"] {
  border-color: var(--vermilion);
}
</style>
