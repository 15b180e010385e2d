<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/vue-query";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { useRoute } from "vue-router";
import { answer, client, type Schemas } from "../../api/client";
import { useHere, useMachineId } from "../../composables/machine";
import { useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { onPaper } from "../../units";
import OwnEye from "./OwnEye.vue";
import ProgressPlot from "./ProgressPlot.vue";
import RoundPanel from "./RoundPanel.vue";

/** Practice for hands and eyes on a simulated machine: short rounds, and how one comes on. Nothing here is a record. */
const EXERCISES: { value: Schemas["Exercise"]; name: string; about: string }[] = [
  { value: "cloth", name: "Read the cloth", about: "Eight drawn lines, front and back: how is each?" },
  { value: "setting", name: "Find the setting", about: "A hidden balance, in the fewest stitches." },
  { value: "pull", name: "Pull evenly", about: "Five pulls in your own rhythm, read by a stand-in gauge." },
  { value: "fault", name: "Find the fault", about: "A machine in trouble. Every check costs minutes." },
  { value: "needle", name: "Which needle, which thread", about: "Six quick questions from your drawer." },
];
const PERSON = "weftonos.practices";
const machine = useMachineId();
const here = useHere();
const queries = useQueryClient();
const person = ref(localStorage.getItem(PERSON) ?? "");
watch(person, (name) => localStorage.setItem(PERSON, name));
/** Who practices alone needs no name. */
const who = computed(() => person.value.trim() || "You");
const { data: page, isPlaceholderData: another } = useQuery({
  queryKey: computed(() => ["practice", machine.value, person.value]),
  queryFn: () =>
    answer(
      client.GET("/api/machines/{machine_id}/practice", {
        params: { path: { machine_id: machine.value }, query: { person: person.value } },
      }),
    ),
  placeholderData: keepPreviousData,
});
watch(page, (found) => {
  if (found && !person.value) person.value = found.person;
});
/** A round begins at its question, wherever the list was. */
const toTop = () => window.scrollTo({ top: 0 });
const playing = ref<Schemas["Round"] | null>(null);
const shownNow = (round: Schemas["Round"]) => {
  if (playing.value?.id !== round.id) toTop();
  playing.value = round;
  void queries.invalidateQueries({ queryKey: ["practice"] });
};
const begin = useSend(
  (exercise: Schemas["Exercise"]) =>
    answer(client.POST("/api/machines/{machine_id}/practice", { ...here(), body: { person: who.value, exercise } })),
  { then: shownNow },
);
const goOn = useSend(
  (id: number) => answer(client.GET("/api/practice/{round_id}", { params: { path: { round_id: id } } })),
  { then: shownNow },
);
const wanted = useRoute().query.exercise;
const nameOf = (exercise: Schemas["Exercise"]) => EXERCISES.find((e) => e.value === exercise)?.name ?? "";
/** Until the rounds of the one who is named are there, those of the name before are nobody's to go on with. */
const stands = (exercise: Schemas["Exercise"]) =>
  another.value ? undefined : page.value?.progress.find((p) => p.exercise === exercise);
const listed = computed(() => [...EXERCISES].sort((a, b) => Number(b.value === wanted) - Number(a.value === wanted)));
const seed = ref("1");
</script>

<template>
  <div class="practice">
    <p class="banner">
      <strong>Practice</strong> on a simulated machine. Nothing here goes into the log of a real one.
    </p>
    <RoundPanel
      v-if="playing"
      :round="playing"
      :title="nameOf(playing.exercise)"
      @moved="shownNow"
      @again="begin.go(playing.exercise)"
      @leave="playing = null" />
    <div v-else class="station">
      <div>
        <section class="panel stack">
          <h2>What do you want to practice?</h2>
          <FieldBox label="Your name, if others practice too" :error="begin.error('person')"
            ><InputText v-model="person" maxlength="40" autocomplete="off"
          /></FieldBox>
          <p v-if="begin.problem.value && !begin.error('person')" class="field-error" role="alert">
            {{ begin.problem.value.message }}
          </p>
          <div v-for="e in listed" :key="e.value" class="exercise">
            <button type="button" class="begin" :disabled="begin.pending.value" @click="begin.go(e.value)">
              <strong>{{ e.name }}</strong>
              <span>{{ e.about }}</span>
              <span v-if="stands(e.value)?.rounds" class="soft"
                >level {{ stands(e.value)?.level }}, {{ stands(e.value)?.rounds }} done</span
              >
            </button>
            <Button
              v-if="stands(e.value)?.open"
              label="Go on with the open round"
              text
              :aria-label="`Go on with the open round: ${e.name}`"
              @click="goOn.go(stands(e.value)?.open ?? 0)" />
          </div>
        </section>
      </div>
      <div>
        <OwnEye v-if="page?.looks" :page="page" />
        <section v-if="page?.progress.some((p) => p.points.length)" class="panel stack">
          <h2>Your progress</h2>
          <template v-for="p in page.progress" :key="p.exercise">
            <ProgressPlot v-if="p.points.length" :points="p.points" :name="nameOf(p.exercise)" />
          </template>
          <p v-if="page.hand_text">{{ page.hand_text }}</p>
        </section>
        <section class="panel stack">
          <h2>A sheet for a class</h2>
          <p class="soft">Lines to read, machines in trouble, needles to pick. The answers are on their own page.</p>
          <FieldBox label="Number of the sheet"><InputText v-model="seed" inputmode="numeric" /></FieldBox>
          <a v-if="/^\d{1,9}$/.test(seed)" class="onward" :href="`/api/practice/sheet.pdf?seed=${seed}&${onPaper()}`"
            >Print sheet {{ seed }}</a
          >
          <p v-else class="field-error" role="alert">“{{ seed }}” is not a number. Type figures, such as 7.</p>
        </section>
      </div>
    </div>
  </div>
</template>

<style scoped>
.banner {
  margin: 0.8rem 1.25rem 0;
  padding: 0.6rem 0.9rem;
  border: 2px dashed var(--marigold);
  background: var(--amber-wash);
  color: var(--ink);
}
.exercise {
  display: grid;
}
.begin {
  display: grid;
  gap: 0.15rem;
  text-align: left;
  min-height: 44px;
  padding: 0.7rem 0.9rem;
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  color: inherit;
  font: inherit;
}
.begin strong {
  font-size: var(--type-lead);
}
</style>
