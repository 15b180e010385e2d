<script setup lang="ts">
import { watchEffect } from "vue";
import { useRouter } from "vue-router";
import { useMachines } from "../api/queries";
import MachineForm from "../parts/MachineForm.vue";
import { rememberedMachine } from "../router";

const router = useRouter();
const { data: machines, isError } = useMachines();

watchEffect(() => {
  const known = machines.value ?? [];
  const machine = known.find((m) => m.id === rememberedMachine()) ?? known[0];
  if (machine) void router.replace({ name: "thread", params: { machine: machine.id } });
});
</script>

<template>
  <div class="station">
    <div>
      <p v-if="isError" class="panel verdict" role="alert">
        The server does not answer. Start it and load this page again.
      </p>
      <section v-else-if="machines?.length === 0" class="panel stack">
        <h2 class="verdict">First, your machine</h2>
        <p class="soft">Name it as you call it. Everything you measure is kept under that name.</p>
        <MachineForm @saved="(id) => router.push({ name: 'thread', params: { machine: id } })" />
      </section>
    </div>
  </div>
</template>
