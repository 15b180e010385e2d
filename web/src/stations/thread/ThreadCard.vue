<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, client } from "../../api/client";
import { onPaper } from "../../units";
import { useMachine, useMachineId } from "../../composables/machine";

/** What is known of one thread on this machine: its maker, its owner, and how it ran here. */
const props = defineProps<{ thread: number }>();
const machine = useMachineId();
const item = useMachine();
const { data } = useQuery({
  queryKey: computed(() => ["card", machine.value, props.thread]),
  queryFn: () =>
    answer(
      client.GET("/api/machines/{machine_id}/threads/{thread_id}/card", {
        params: { path: { machine_id: machine.value, thread_id: props.thread } },
      }),
    ),
});
</script>

<template>
  <section v-if="data?.lines.length" class="stack" aria-labelledby="card-title">
    <h2 id="card-title">What we know about it{{ item ? `, on ${item.spec.nickname}` : "" }}</h2>
    <dl class="facts">
      <template v-for="line in data.lines" :key="line.label">
        <dt>{{ line.label }}</dt>
        <dd>{{ line.says }}</dd>
      </template>
    </dl>
    <a :href="`/api/machines/${machine}/threads/${thread}/card.pdf?${onPaper()}`" target="_blank">Print the card</a>
  </section>
</template>
