<script setup lang="ts">
import Button from "primevue/button";
import { watchEffect } from "vue";
import { useRouter } from "vue-router";
import { answer, client } from "../api/client";
import { useMachines } from "../api/queries";
import { useSend } from "../composables/send";
import { rememberedMachine } from "../router";
import FirstMinute from "./start/FirstMinute.vue";

/** The first page of an empty workshop: the machine, a question at a time, or a look round in the example. */
const router = useRouter();
const { data: machines, isError } = useMachines();

watchEffect(() => {
  const known = (machines.value ?? []).filter((m) => !m.spec.retired);
  const machine = known.find((m) => m.id === rememberedMachine()) ?? known[0] ?? machines.value?.[0];
  if (machine) void router.replace({ name: "thread", params: { machine: machine.id } });
});
const example = useSend(() => answer(client.POST("/api/workshop/example")), {
  then: ({ url }) => window.location.assign(url),
});
</script>

<template>
  <div class="start">
    <header>
      <p class="name">Weftonos</p>
      <p class="says">Thread, needle, bobbin, tension: what works on your machine, found once and saved.</p>
    </header>
    <p v-if="isError" class="panel verdict" role="alert">
      The server doesn't answer. Start it and load this page again.
    </p>
    <div v-else-if="machines?.length === 0" class="two">
      <FirstMinute @saved="(id) => router.push({ name: 'thread', params: { machine: id } })" />
      <section class="panel stack">
        <h2>Or look around first</h2>
        <p>
          The example is a workshop with three machines, twenty threads and a season of quilts. It opens beside yours
          and changes nothing of yours.
        </p>
        <Button
          label="Look around the example workshop"
          outlined
          :loading="example.pending.value"
          @click="example.go()" />
        <p v-if="example.problem.value" class="field-error" role="alert">{{ example.problem.value.message }}</p>
        <h2>What comes next</h2>
        <ol>
          <li>Add the thread you use most, from its label.</li>
          <li>See which needle it needs, and fit it.</li>
          <li>Load the bobbin, stitch four test lines, save what works.</li>
        </ol>
      </section>
    </div>
  </div>
</template>

<style scoped>
.start {
  max-width: 1240px;
  margin: 0 auto;
  padding: 1.25rem;
  display: grid;
  gap: 1.25rem;
}
header {
  background: var(--indigo);
  color: var(--thread-white);
  border-radius: 4px;
  padding: 0.7rem 1.5rem 0.9rem;
}
.name {
  font-size: var(--type-large);
  font-weight: 720;
  line-height: 1.1;
}
.says {
  font-size: var(--type-lead);
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(16rem, 1fr);
  gap: 1.25rem;
  align-items: start;
}
ol {
  margin: 0;
  padding-left: 1.2rem;
  display: grid;
  gap: 0.4rem;
}
@media (max-width: 900px) {
  .start {
    padding: 0.9rem;
  }
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
