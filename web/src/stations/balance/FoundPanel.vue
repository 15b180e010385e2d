<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHas } from "../../composables/features";
import { useHere, useMachineId } from "../../composables/machine";
import { useNote, useSend } from "../../composables/send";
import ToggleRow from "../../parts/ToggleRow.vue";
import { CARES, MOTION_SAYS } from "../../words";

/** What to do now, and what stands in its way. */
const props = defineProps<{ station: Schemas["BalanceStation"]; motion: Schemas["Motion"] }>();
const emit = defineEmits<{ keep: [] }>();
const machine = useMachineId();
const found = computed(() => props.station.estimate);
const here = useHere();
const has = useHas();
/** A guard rail that stands in the way is put aside by the hand that has done what it asks. */
const done = ref<string[]>([]);
watch(
  () => props.station.looks.length,
  () => (done.value = []),
);
const blocking = computed(() => props.station.guards.find((g) => g.blocks && !done.value.includes(g.trap)));
/** What was noted after lines that may have been stitched with it; a no is remembered while this page is open. */
const notIn = ref<number[]>([]);
const late = computed(() =>
  props.station.late && !notIn.value.includes(props.station.late.record) ? props.station.late : null,
);
const moveIt = useSend(
  (record: number) =>
    answer(
      client.POST("/api/machines/{machine_id}/late/{record_id}", {
        params: { path: { machine_id: machine.value, record_id: record } },
      }),
    ),
  { says: () => "Moved. The lines count for it now." },
);
/** The knob stands off where this thread starts: turned, it is written down. */
const setKnob = useNote((setting: number) =>
  answer(client.POST("/api/machines/{machine_id}/knob", { ...here(), body: { kind: "knob_set", setting } })),
);
const setCare = useNote((care: Schemas["Care"]) =>
  answer(client.POST("/api/machines/{machine_id}/care", { ...here(), body: { care } })),
);
const AT_BOBBIN = ["fluttering_bobbin", "unread_bobbin"];
</script>

<template>
  <section class="panel stack lead" aria-live="polite">
    <template v-if="blocking">
      <p class="soft">First this</p>
      <p class="answer first" data-answer>{{ blocking.act }}</p>
      <p class="verdict trouble">{{ blocking.text }}</p>
      <div class="row">
        <RouterLink v-if="AT_BOBBIN.includes(blocking.trap)" :to="{ name: 'bobbin', params: { machine } }" class="go"
          >Go to Bobbin</RouterLink
        >
        <Button
          :label="blocking.trap === 'sudden_nest' ? 'Thread is seated' : 'I checked'"
          outlined
          @click="done.push(blocking.trap)" />
      </div>
    </template>
    <template v-else-if="!station.start && !station.looks.length">
      <p class="answer first" data-answer>Choose a top thread first</p>
      <p class="verdict">Where to start follows from it.</p>
      <RouterLink :to="{ name: 'thread', params: { machine } }" class="onward">Go to Thread</RouterLink>
    </template>
    <template v-else>
      <!-- In the place of what stands there: nothing moves for the moment that it mostly takes. -->
      <p class="soft">
        <template v-if="station.motion !== motion"
          >Still for {{ MOTION_SAYS[station.motion] }}: {{ MOTION_SAYS[motion] }} is on its way.</template
        >
        <template v-else>{{ station.looks.length ? "Do this now" : "Start" }}</template>
      </p>
      <p class="answer act" data-answer>{{ found.action }}</p>
      <ol v-if="station.remedies.length" class="remedies">
        <li v-for="r in station.remedies" :key="r">{{ r }}</li>
      </ol>
      <p v-else-if="!station.looks.length && station.start && !station.start.known" class="verdict">
        {{ station.start.text }}
      </p>
      <p v-else class="verdict">
        {{ station.looks.length ? "Best guess" : "Usual start" }}
        {{ station.looks.length ? station.set_to_words : station.start_words }}, most likely {{ station.likely_words }}
      </p>
      <p v-if="station.skip_says" class="good">{{ station.skip_says }}</p>
      <p v-else-if="station.pays_says" class="soft">{{ station.pays_says }}</p>
      <ToggleRow
        v-if="station.setup.quilt"
        class="care"
        :label="`How careful on ${station.setup.quilt}?`"
        :options="CARES"
        :model-value="station.care"
        @update:model-value="setCare.go($event)" />
      <div v-if="station.knob" class="caution knob">
        {{ station.knob.text }}
        <Button
          :label="`I've set it to ${station.knob.to_words}`"
          outlined
          :loading="setKnob.pending.value"
          @click="setKnob.go(station.knob.to)" />
      </div>
      <div v-if="late" class="caution knob">
        {{ late.asks }}
        <span class="row">
          <Button label="Yes" outlined :loading="moveIt.pending.value" @click="moveIt.go(late.record)" />
          <Button label="No" text @click="notIn.push(late.record)" />
        </span>
        <span v-if="moveIt.problem.value" class="field-error" role="alert">{{ moveIt.problem.value.message }}</span>
      </div>
      <p v-if="station.at_another_reading" class="caution">{{ station.at_another_reading }}</p>
      <p v-if="found.eye_says" class="good">{{ found.eye_says }}</p>
      <p v-if="station.present_says" class="good">{{ station.present_says }}</p>
      <Button
        v-if="station.present_says && !station.missing.length"
        label="Save it as a recipe"
        outlined
        class="low"
        @click="emit('keep')" />
    </template>
    <p v-if="station.setup.bobbin_work" class="caution">
      Bobbin work: the quilt lies face down, so what is called front here is its back. For a thread that lies too
      straight, loosen {{ has("case") ? "the case" : "the bobbin's own screw" }}, not the top.
    </p>
  </section>
</template>

<style scoped>
.low {
  justify-self: start;
}
.remedies {
  margin: 0;
  padding-left: 1.4rem;
  font-size: var(--type-lead);
  line-height: 1.4;
}
@media (max-width: 600px) {
  /* On a phone the form comes right after the pictures. */
  .low,
  .care {
    display: none;
  }
  .lead {
    gap: 0.35rem;
  }
}
.act {
  font-size: var(--type-large);
  line-height: 1.1;
}
.first {
  font-size: var(--type-large);
}
.trouble {
  color: var(--vermilion);
}
.good {
  font-size: var(--type-lead);
}
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.6rem 0.9rem;
}
.knob {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 1rem;
  align-items: center;
  justify-content: space-between;
}
.go {
  display: inline-flex;
  align-items: center;
  min-height: 48px;
  padding: 0 1rem;
  font-weight: 650;
  color: var(--ink);
}
</style>
