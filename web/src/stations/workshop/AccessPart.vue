<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { counted, day } from "../../words";

/** Who may come in from the local network: the passcode, the browsers that are in, programs with their tokens. */
const queries = useQueryClient();
const { data } = useQuery({
  queryKey: ["keeping", "access"],
  queryFn: () => answer(client.GET("/api/workshop/access")),
});
const now = (access: Schemas["Access"]) => queries.setQueryData(["keeping", "access"], access);
const renew = useSend(() => answer(client.POST("/api/workshop/access/new-passcode")), {
  says: () => "New passcode. Browsers that are logged in stay logged in.",
  then: now,
});
const logOut = useSend(() => answer(client.POST("/api/workshop/access/log-out")), {
  says: () => "Every browser on the network is logged out.",
  then: now,
});
const name = ref("");
const token = ref("");
const give = useSend((name: string) => answer(client.POST("/api/workshop/access/programs", { body: { name } })), {
  then: (given) => {
    token.value = given.token;
    name.value = "";
    now(given.access);
  },
});
const withdraw = useSend(
  (number: string) => answer(client.DELETE("/api/workshop/access/programs/{number}", { params: { path: { number } } })),
  { says: () => "The token is withdrawn.", then: now },
);
</script>

<template>
  <div v-if="data" class="stack">
    <p class="soft">Passcode</p>
    <p class="code">{{ data.passcode }}</p>
    <p v-if="data.chosen" class="soft">It was chosen when Weftonos was started.</p>
    <p class="soft">{{ counted(data.browsers, "browser") }} logged in.</p>
    <div class="row">
      <Button v-if="!data.chosen" label="New passcode" outlined :loading="renew.pending.value" @click="renew.go()" />
      <Button label="Log out everywhere" outlined :loading="logOut.pending.value" @click="logOut.go()" />
    </div>
    <details>
      <summary>Programs of your own</summary>
      <ul v-if="data.programs.length" class="listed">
        <li v-for="p in data.programs" :key="p.number">
          <span
            ><strong>{{ p.name }}</strong>
            <span class="soft">{{ p.used_at ? `last used ${day(p.used_at)}` : "not used yet" }}</span></span
          >
          <Button label="Withdraw" text :aria-label="`Withdraw: ${p.name}`" @click="withdraw.go(p.number)" />
        </li>
      </ul>
      <p v-if="token" role="status">
        Copy this token now, it's shown only once: <code>{{ token }}</code>
      </p>
      <form class="row" @submit.prevent="give.go(name)">
        <FieldBox label="Program" :error="give.error('name')"><InputText v-model="name" /></FieldBox>
        <Button type="submit" label="Make a token" outlined :loading="give.pending.value" />
      </form>
    </details>
  </div>
</template>

<style scoped>
.code {
  font-size: var(--type-large);
  font-weight: 700;
  letter-spacing: 0.08em;
  font-variant-numeric: tabular-nums;
}
</style>
