<script setup lang="ts">
import { metersTyped, stretch, stretchUnit } from "../units";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";
import { answer, client, Problem } from "../api/client";
import { useRun } from "../api/queries";
import { useHas } from "../composables/features";
import { useHere, useMachineId } from "../composables/machine";
import { duration, percent } from "../words";
import BobbinDrawn from "../diagrams/BobbinDrawn.vue";
import { NO_COLOR } from "../drawn";
import FieldBox from "./FieldBox.vue";
import { useNote } from "../composables/send";

/** How far the bobbin that is in still goes, by the meters and the pace on record. */
const machine = useMachineId();
const has = useHas();
const next = ref("");
const lineTyped = () => {
  try {
    return next.value ? metersTyped("next_line_m", next.value) : undefined;
  } catch {
    return undefined;
  }
};
const nextLine = computed(() => lineTyped());
const { data, error: nextError } = useRun(machine, nextLine);
const left = computed(() => data.value?.bobbin);
const here = useHere();
const fresh = useNote(
  (emptied: boolean) =>
    answer(client.POST("/api/machines/{machine_id}/bobbin/again", { ...here(), body: { emptied } })),
  {
    says: (entry) => `Noted: ${entry.text}.${has("gauge") ? " Read it before you go on." : ""}`,
  },
);
</script>

<template>
  <section v-if="data" class="panel stack" aria-live="polite">
    <h2>The bobbin, {{ data.setup.bobbin?.name ?? "none" }}</h2>
    <template v-if="left">
      <div class="left">
        <BobbinDrawn
          class="drawn"
          :share="left.share"
          :low="left.low"
          :color="data.setup.bobbin?.color ?? NO_COLOR"
          :words="left.text" />
        <p class="answer half">{{ stretch(left.stitched_m_left) }} <small>of stitching left</small></p>
      </div>
      <p v-if="!left.share">
        {{ stretch(data.stitched_m ?? 0) }} sewn on it by your records: all that a full one holds. Is another in? Note
        it here.
      </p>
      <p v-else>
        {{ percent(left.share) }} of a full bobbin<template v-if="data.bobbin_minutes != null"
          >, about {{ duration(data.bobbin_minutes) }} at your pace</template
        >. {{ stretch(data.stitched_m ?? 0) }} sewn on it<template v-if="data.by_pace_m"
          >, {{ stretch(data.by_pace_m) }} of that by your pace</template
        >.
      </p>
      <FieldBox
        :label="`The next line, ${stretchUnit()}`"
        :error="nextError instanceof Problem && !nextError.lost ? `A line is 0 to ${stretch(1000)}.` : undefined"
        ><InputText v-model="next" inputmode="decimal"
      /></FieldBox>
      <p v-if="left.enough != null" class="verdict" :class="left.enough ? 'enough' : 'short'">
        {{ left.enough ? "It lasts for the next line." : "Change it before the next line." }}
      </p>
    </template>
    <p v-else class="verdict">{{ data.bobbin_unknown }}</p>
    <p v-if="data.bobbin_holds" class="soft">{{ data.bobbin_holds.says }}</p>
    <div v-if="data.setup.bobbin" class="row">
      <Button
        label="It ran out: new bobbin, same thread"
        outlined
        :loading="fresh.pending.value"
        @click="fresh.go(true)" />
      <Button label="New bobbin, old one not empty" text @click="fresh.go(false)" />
    </div>
    <p v-if="fresh.problem.value" class="field-error" role="alert">{{ fresh.problem.value.message }}</p>
  </section>
</template>

<style scoped>
.half {
  font-size: var(--type-large);
}
.left {
  display: flex;
  gap: 1rem;
  align-items: center;
}
.drawn {
  flex: none;
  width: 8.5rem;
}
.enough {
  color: var(--teal);
}
.short {
  color: var(--vermilion);
}
</style>
