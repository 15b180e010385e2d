<script setup lang="ts">
import Button from "primevue/button";
import { useQueryClient } from "@tanstack/vue-query";
import type { Schemas } from "../api/client";
import { useStrikeRecord } from "../composables/send";

/** Ends a planned comparison; what was noted for it stays, and Undo takes it up again. */
const props = defineProps<{ progress: Schemas["PlanProgress"] }>();
const queries = useQueryClient();
const record = useStrikeRecord();
async function end() {
  await record.out(props.progress.record, "The comparison has ended. What you noted stays.");
  void queries.invalidateQueries({ queryKey: ["evidence"] });
}
</script>

<template>
  <div class="row"><Button label="End the comparison" text @click="end" /></div>
</template>
