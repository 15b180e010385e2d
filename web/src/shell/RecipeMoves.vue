<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useLine } from "../api/queries";
import { useHere, useMachineId } from "../composables/machine";
import { useSend, useTakeBack } from "../composables/send";
import { CHANGED } from "../words";

/** The kept combination that is being put back: its moves, each ticked as it is noted, pinned on every station. */
const machine = useMachineId();
const { data: line } = useLine(machine);
const recipe = computed(() => (line.value?.machine.id === machine.value ? line.value.recipe : null));
const left = computed(() => recipe.value?.moves.filter((move) => !move.done) ?? []);
const here = useHere();
const takeBack = useTakeBack();
const end = useSend(
  (how: "done" | "drop") =>
    answer(
      how === "done"
        ? client.POST("/api/machines/{machine_id}/recipe-in-use/done", here())
        : client.POST("/api/machines/{machine_id}/recipe-in-use/drop", here()),
    ),
  {
    says: (ended: Schemas["InUse"]) =>
      ended.moves.every((move) => move.done)
        ? `${ended.name} is on. Stitch a test at ${ended.setting_words}.`
        : `${ended.name} was left off.`,
    undo: (ended) => () => void takeBack.go([...(ended.records ?? [])]),
    waits: true,
  },
);
</script>

<template>
  <aside v-if="recipe" class="pinned" :aria-label="`Putting back ${recipe.name}`">
    <p>
      <strong>{{ recipe.name }}</strong>{{ " "
      }}<span class="soft">{{ left.length ? `${left.length} to go` : "everything is on" }}</span>
    </p>
    <ul>
      <li v-for="m in recipe.moves" :key="m.what" :class="{ done: m.done }">
        <span aria-hidden="true">{{ m.done ? "✓" : "○" }}</span><span class="sr">{{
          m.done ? "done:" : "to do:"
        }}</span>
        {{ CHANGED[m.what] }}: <template v-if="!m.done">{{ m.before }} → </template><strong>{{ m.after }}</strong>
      </li>
    </ul>
    <div class="acts">
      <Button label="All done" :loading="end.pending.value" @click="end.go('done')" />
      <Button label="Leave it off" text @click="end.go('drop')" />
    </div>
    <p v-if="end.problem.value" class="field-error" role="alert">{{ end.problem.value.message }}</p>
  </aside>
</template>

<style scoped>
.done {
  color: var(--ink-soft);
}
.acts {
  display: flex;
  gap: 0.4rem;
}
@media (max-width: 900px) {
  .pinned > p {
    flex: 1;
  }
  ul {
    order: 3;
    flex-basis: 100%;
  }
}
</style>
