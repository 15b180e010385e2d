<script setup lang="ts">
import { computed } from "vue";
import { useProcedures } from "../../api/queries";
import { useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import WalkThrough from "../../parts/WalkThrough.vue";

/** How a bobbin drops in, point by point: all there is to do on a machine without a case. */
const { data } = useProcedures(useMachineId());
const walk = computed(() => data.value?.walks.find((w) => w.id === "load_drop_in"));
</script>

<template>
  <WalkThrough
    v-if="walk"
    :steps="walk.steps"
    :counted="`${walk.name},`"
    done="Done"
    says="It's in. Stitch a line, and judge it at Balance.">
    <CautionList :cautions="walk.cautions" />
  </WalkThrough>
</template>
