<script setup lang="ts">
import { pullFigure, forceUnit } from "../../units";
import { useQuery } from "@tanstack/vue-query";
import Button from "primevue/button";
import { computed, onUnmounted, ref, shallowRef } from "vue";
import { answer, client, Problem, type Schemas } from "../../api/client";
import { useHere } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import { fixed, percent } from "../../words";
import CsvImport from "./CsvImport.vue";
import { LiveTrace, openGauge, type Sample } from "./liveTrace";
import TraceCanvas from "./TraceCanvas.vue";
import { useNote } from "../../composables/send";

/** The live gauge: draws the pull as it comes, reads it after each pull, keeps it as a reading. */
const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const { data: sources } = useQuery({
  queryKey: ["words", "sources"],
  queryFn: () => answer(client.GET("/api/gauge/sources")),
  staleTime: Infinity,
});
const CAUSES: Record<string, string> = {
  sound: "sound",
  badly_wound: "badly wound",
  bent_case: "bent case",
  lint: "lint",
  tight_bearing: "tight bearing",
  worn_spring: "worn spring",
};
const condition = ref("sound");
const conditions = computed(() =>
  (sources.value?.[0]?.conditions ?? ["sound"]).map((c) => ({ value: c, name: CAUSES[c] ?? c })),
);
const trace = new LiveTrace();
const read = shallowRef<Schemas["TraceAnswer"] | null>(null);
const streaming = ref(false);
const dropped = ref("");
/** How much was drawn when the gauge stopped. */
const drawn = ref(0);
let socket: WebSocket | null = null;

function start() {
  trace.clear();
  standIn.value = true;
  read.value = null;
  dropped.value = "";
  drawn.value = 0;
  const seed = Math.floor(Math.random() * 1e6);
  socket = openGauge(`live?condition=${condition.value}&seed=${seed}`);
  streaming.value = true;
  socket.onmessage = (event) => {
    const message = JSON.parse(event.data as string) as {
      samples?: Sample[];
      answer?: Schemas["TraceAnswer"];
    };
    if (message.samples) trace.add(message.samples);
    if (message.answer) read.value = message.answer;
  };
  socket.onclose = () => {
    if (streaming.value) void readWhatCame("The gauge stopped.");
    streaming.value = false;
  };
}
/** What was drawn, as far as it went: a pull that was broken off is read like a recorded one. */
async function readWhatCame(why = "") {
  drawn.value = trace.size;
  dropped.value = why;
  if (read.value || !trace.size) return;
  const [length_mm, tension_mn] = trace.columns();
  try {
    read.value = await answer(client.POST("/api/gauge/trace", { body: { length_mm, tension_mn } }));
  } catch (problem) {
    const { message, lost } = problem as Problem;
    const then = lost ? "Save what was drawn as CSV, or read it when the server is back." : message;
    dropped.value = `${why} ${then}`.trim();
  }
}
function end() {
  streaming.value = false;
  socket?.close();
  socket = null;
}
function stop() {
  end();
  void readWhatCame();
}
onUnmounted(end);

const here = useHere();
/** What is shown was made up by the stand-in, and not read from somebody's own file. */
const standIn = ref(true);
const mayKeep = computed(() => !standIn.value || sources.value?.[0]?.kept);
const keep = useNote(() =>
  answer(
    client.POST("/api/machines/{machine_id}/readings", {
      params: { ...here().params, query: { stand_in: standIn.value } },
      body: {
        unit: "mN",
        method: "trace",
        case: props.station.setup.case?.id ?? null,
        pulls: (read.value?.pulls ?? []).slice(-20).map((p) => ({ value: p.mean_mn, low: p.low_mn, high: p.high_mn })),
        note: read.value && read.value.cause !== "sound" ? `Trace: ${CAUSES[read.value.cause]}` : "",
      },
    }),
  ),
);
/** Written here, so that it works while the server is away. */
function save() {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([trace.csv(standIn.value)], { type: "text/csv" }));
  link.download = "pull.csv";
  link.click();
  URL.revokeObjectURL(link.href);
}
function imported(found: Schemas["ReadCsv"]) {
  end();
  dropped.value = "";
  drawn.value = found.trace.length_mm.length;
  trace.clear();
  trace.add(found.trace.length_mm.map((mm, i) => [i / 50, mm, found.trace.tension_mn[i] ?? 0]));
  read.value = found.answer;
  standIn.value = found.stand_in;
}
</script>

<template>
  <div class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <template v-if="read">
          <p class="answer" data-answer>
            {{ pullFigure(read.mean_mn) }} <small>{{ forceUnit() }}</small>{{ " " }}
            <small class="soft">wavers {{ percent(read.swing) }}</small>
          </p>
          <p class="verdict" :class="read.cause === 'sound' ? 'sound' : 'fault'">{{ read.text }}</p>
          <p class="soft">
            {{ read.pulls.length }} pull{{ read.pulls.length > 1 ? "s" : "" }} found. One turn of the bobbin about
            {{ fixed(read.features.turn_mm) }} mm of thread. The wave is {{ percent(read.features.wave) }} of the mean.
          </p>
        </template>
        <template v-else>
          <p class="answer ask">{{ streaming ? "Pull, long and even" : "Start the gauge" }}</p>
          <p>
            {{
              streaming
                ? "After each pull this says what the shape means."
                : "It draws the pull as it comes and finds the pulls by itself."
            }}
          </p>
        </template>
        <TraceCanvas :trace="trace" :running="streaming" :target="station.target ?? null" />
        <p v-if="dropped" class="field-error" role="alert">{{ dropped }}</p>
        <div class="row">
          <Button v-if="!streaming" data-new label="Start" size="large" @click="start" />
          <Button v-else label="Stop" size="large" @click="stop" />
          <Button label="Save reading" outlined size="large" :disabled="!read || !mayKeep" @click="keep.go()" />
          <Button
            v-if="!streaming && drawn && !read"
            label="Read the pull"
            outlined
            size="large"
            @click="readWhatCame()" />
          <Button label="Save as CSV" text :disabled="streaming || !drawn" @click="save" />
        </div>
        <p v-if="read && !mayKeep" class="soft">
          This gauge is a stand-in for trying things out. Its readings are made up, and none is saved. A recording of
          your own gauge can be saved.
        </p>
        <p v-if="keep.problem.value" class="field-error" role="alert">{{ keep.problem.value.message }}</p>
      </section>
    </div>
    <div>
      <section class="panel stack">
        <h2>The gauge</h2>
        <p class="soft">
          {{ sources?.[0]?.about }} It acts out a bobbin and case in the condition you choose. A hand draws the thread.
        </p>
        <ChoiceBox v-model="condition" label="The stand-in plays" :options="conditions" />
      </section>
      <CsvImport @read="imported" />
      <section class="panel stack">
        <h2>What shapes mean</h2>
        <ul class="shapes">
          <li>a wave once a turn of the bobbin: bobbin or case</li>
          <li>spikes without a rhythm: lint, a burr</li>
          <li>sudden slack: the backlash spring or washer</li>
          <li>a steady climb: the bobbin does not turn freely</li>
        </ul>
        <p class="soft">The limits between them are our own estimates.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.ask {
  font-size: var(--type-large);
}
.sound {
  color: var(--teal);
}
.fault {
  color: var(--vermilion);
}
.shapes {
  margin: 0;
  padding-left: 1.2rem;
  display: grid;
  gap: 0.3rem;
}
</style>
