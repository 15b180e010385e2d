<script setup lang="ts">
import { ref } from "vue";
import { useMend } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import CurePanel from "./CurePanel.vue";
import LookPanel from "./LookPanel.vue";
import SeenForm from "./SeenForm.vue";
import TechnicianPanel from "./TechnicianPanel.vue";

/** The trouble at hand: what is seen, one check at a time, the cure, the test. */
const machine = useMachineId();
const own = ref(true);
const thorough = ref(false);
const { data } = useMend(machine, own, thorough);
const seeing = ref(false);
</script>

<template>
  <template v-if="data">
    <SeenForm v-if="data.stage === 'start' || seeing" :station="data" @done="seeing = false" />
    <LookPanel v-else-if="data.stage === 'look'" v-model:own="own" :station="data" @see="seeing = true" />
    <CurePanel v-else-if="data.stage === 'cure'" :station="data" />
    <TechnicianPanel v-else :station="data" :thorough="thorough" @thorough="thorough = true" @see="seeing = true" />
  </template>
</template>
