<script setup lang="ts">
import { useTurn } from "../composables/turns";

/** A part of a station that is drawn in its turn while the station is being opened, so that no tap waits for all. */
const shown = useTurn();
</script>

<template><slot v-if="shown" /></template>
