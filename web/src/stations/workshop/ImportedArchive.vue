<script setup lang="ts">
import Button from "primevue/button";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useJob } from "../../composables/job";
import JobLine from "../../parts/JobLine.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { counted, day } from "../../words";

/** A whole workshop that was given: what is in it, and what becomes of what is here already. */
const props = defineProps<{ file: Schemas["SeenFile"] }>();
const emit = defineEmits<{ brought: [what: Schemas["BroughtIn"]]; leave: [] }>();
const differing = ref<Schemas["Differing"]>("keep");
const { job, problem, start, breakOff } = useJob((done) => done.brought && emit("brought", done.brought));
const keep = () =>
  start(() =>
    answer(
      client.POST("/api/exchange/files/{token}/keep", {
        params: { path: { token: props.file.token } },
        body: { differing: differing.value, leave_out: false },
      }),
    ),
  );
</script>

<template>
  <section class="panel stack" aria-live="polite">
    <p class="soft">A whole workshop: {{ file.name }}</p>
    <p class="answer ask" data-answer>{{ counted(file.counts?.record ?? 0, "record") }}</p>
    <p class="verdict">
      {{ counted(file.counts?.thread ?? 0, "thread") }}, {{ counted(file.counts?.machine ?? 0, "machine")
      }}<template v-if="file.made_at">, written on {{ day(file.made_at) }}</template
      >.
    </p>
    <p class="soft">
      What's here already is recognized by its number and stays as one. A machine or case of a name that is taken here
      gets another.
    </p>
    <ToggleRow
      v-model="differing"
      label="Where this workshop says something else"
      :options="[
        { value: 'keep', name: 'leave what is here' },
        { value: 'take', name: 'take the file\'s, ours stays beside it' },
      ]" />
    <JobLine :job="job" @stop="breakOff" />
    <p v-if="problem" class="field-error" role="alert">{{ problem }}</p>
    <div class="row">
      <Button label="Bring it in" size="large" :loading="job?.state === 'running'" @click="keep" />
      <Button label="Leave it" text @click="$emit('leave')" />
    </div>
  </section>
</template>
