<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, onUnmounted, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useLine, useRun, useStrike } from "../../api/queries";
import { useMachineId } from "../../machine";
import { say } from "../../notices";
import FieldBox from "../../parts/FieldBox.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import { fixed, percent, typed } from "../../words";

/** While it is quilted: the clock, how far the bobbin still goes, and what wants seeing to first. */
const machine = useMachineId();
const next = ref("");
const nextLine = computed(() => (next.value && !Number.isNaN(typed(next.value)) ? typed(next.value) : undefined));
const { data, error: nextError } = useRun(machine, nextLine);
const { data: line } = useLine(machine);
const first = computed(() =>
  (line.value?.knots ?? []).filter((k) => !["run", "log"].includes(k.station) && (k.state === "trouble" || k.state === "caution")),
);

const now = ref(Date.now());
const tick = window.setInterval(() => (now.value = Date.now()), 5_000);
onUnmounted(() => window.clearInterval(tick));
const hours = (minutes: number) => `${Math.floor(minutes / 60)}:${String(Math.floor(minutes % 60)).padStart(2, "0")}`;
const elapsed = computed(() => (data.value?.clock ? Math.max(0, (now.value - Date.parse(data.value.clock.since)) / 60_000) : 0));

const quilt = ref("");
watch(
  () => data.value?.quilt,
  (name) => (quilt.value ||= name ?? ""),
  { immediate: true },
);
const minutes = ref("");
const metres = ref("");
const undo = useStrike();
const params = () => ({ params: { path: { machine_id: machine.value } } });
const sewn = () => (metres.value ? typed(metres.value) : null);
const start = useChange(() =>
  answer(client.POST("/api/machines/{machine_id}/clock/start", { ...params(), body: { quilt: quilt.value, kind: "clock_started" } })),
);
const stop = useChange(() => answer(client.POST("/api/machines/{machine_id}/clock/stop", { ...params(), body: { metres: sewn() } })));
const run = useChange(() =>
  answer(client.POST("/api/machines/{machine_id}/runs", { ...params(), body: { minutes: typed(minutes.value), quilt: quilt.value, metres: sewn() } })),
);
const fresh = useChange(() => answer(client.POST("/api/machines/{machine_id}/bobbin/again", params())));
const all = [start, stop, run, fresh];
const problem = computed(() => all.map((c) => c.error.value).find(Boolean));
async function note(change: (typeof all)[number], more = "") {
  for (const c of all) c.reset();
  const entry: Schemas["LogEntry"] | null = await change.mutateAsync(undefined).catch(() => null);
  if (!entry) return;
  if (change !== start && change !== fresh) [minutes.value, metres.value] = ["", ""];
  now.value = Date.now();
  say(`Noted: ${entry.text}.${more}`, () => undo.mutate(entry.id));
}
const left = computed(() => data.value?.bobbin);
</script>

<template>
  <div v-if="data" class="station">
    <div>
      <section class="panel stack" aria-live="polite">
        <template v-if="data.clock">
          <p class="soft">Stitching{{ data.clock.quilt ? ` on ${data.clock.quilt}` : "" }}</p>
          <p class="answer" data-answer>{{ hours(elapsed) }} <small>h</small></p>
          <FieldBox label="Metres stitched, if the machine counts them" :error="problem?.fields.metres"><InputText v-model="metres" inputmode="decimal" /></FieldBox>
          <Button data-new label="Stop the clock" size="large" class="big" @click="note(stop)" />
        </template>
        <template v-else>
          <p class="soft">{{ data.quilt ? `${data.quilt}, so far` : "Nothing stitched yet" }}</p>
          <p class="answer" data-answer>{{ hours(data.quilt_minutes) }} <small>h</small></p>
          <FieldBox label="Quilt" :error="problem?.fields.quilt"><InputText v-model="quilt" /></FieldBox>
          <div v-if="data.quilts.length" class="row" role="group" aria-label="Quilts worked on">
            <button v-for="q in data.quilts" :key="q" type="button" class="quilt" :aria-pressed="quilt === q" @click="quilt = q">{{ q }}</button>
          </div>
          <Button data-new label="Start the clock" size="large" class="big" @click="note(start)" />
          <details>
            <summary>Or note the time by hand</summary>
            <form class="by-hand" @submit.prevent="note(run)">
              <FieldBox label="Minutes stitched" :error="problem?.fields.minutes"><InputText v-model="minutes" inputmode="decimal" /></FieldBox>
              <FieldBox label="Metres, if known" :error="problem?.fields.metres"><InputText v-model="metres" inputmode="decimal" /></FieldBox>
              <Button type="submit" label="Note the minutes" outlined :disabled="!minutes" />
            </form>
          </details>
        </template>
        <p v-if="problem && !Object.keys(problem.fields).some((f) => ['quilt', 'minutes', 'metres'].includes(f))" class="field-error" role="alert">{{ problem.message }}</p>
      </section>
      <section v-if="first.length" class="panel stack">
        <h2>See to this before you go on</h2>
        <RouterLink v-for="k in first" :key="k.station" :to="{ name: k.station, params: { machine } }" class="first" :class="k.state">
          <strong>{{ k.station }}</strong><span>{{ k.fact }}. {{ k.why }}</span>
        </RouterLink>
      </section>
    </div>
    <div>
      <section class="panel stack" aria-live="polite">
        <h2>The bobbin, {{ data.setup.bobbin?.name ?? "none" }}</h2>
        <template v-if="left">
          <p class="answer half">{{ fixed(left.stitched_m_left) }} m <small>of stitching left</small></p>
          <svg viewBox="0 0 600 26" role="img" :aria-label="left.text"><rect width="600" height="26" class="track" /><rect :width="600 * left.share" height="26" :class="left.share < 0.2 ? 'low' : 'full'" /></svg>
          <p>{{ percent(left.share) }} of the bobbin<template v-if="data.bobbin_minutes != null">, about {{ hours(data.bobbin_minutes) }} h at your pace</template>. {{ fixed(data.stitched_m ?? 0) }} m sewn on it<template v-if="data.by_pace_m">, {{ fixed(data.by_pace_m) }} of them by the pace</template>.</p>
          <FieldBox label="The next line, m" :error="nextError ? 'A line is 0 to 1000 m.' : undefined"><InputText v-model="next" inputmode="decimal" /></FieldBox>
          <p v-if="left.enough != null" class="verdict" :class="left.enough ? 'enough' : 'short'">{{ left.enough ? "It lasts for the next line." : "Change it before the next line." }}</p>
        </template>
        <p v-else class="verdict">{{ data.bobbin_unknown }}</p>
        <Button v-if="data.setup.bobbin" label="A fresh bobbin of the same is in" outlined @click="note(fresh, ' Read it before you go on.')" />
      </section>
      <section class="panel stack">
        <h2>The needle</h2>
        <p class="verdict">{{ data.needle?.text ?? "No needle is on record." }}</p>
        <p v-if="data.pace" class="soft">Your pace on this machine: {{ fixed(data.pace.metres_per_hour) }} m an hour, from {{ data.pace.runs }} runs with metres.</p>
        <FiguresNote subject="use" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.big { min-height: 72px; font-size: 1.35rem; }
.half { font-size: clamp(2rem, 3.6vw, 3rem); }
.quilt { min-height: 48px; border: 2px solid var(--rule); background: var(--panel); border-radius: 4px; padding: 0 0.9rem; font-weight: 600; }
.quilt[aria-pressed="true"] { border-color: var(--marigold); background: var(--amber-wash); }
.by-hand { display: grid; grid-template-columns: 1fr 1fr auto; gap: 0.8rem; align-items: end; }
.first { display: grid; grid-template-columns: 6rem 1fr; gap: 0.6rem; min-height: 48px; align-items: center; text-decoration: none; color: var(--ink); border-left: 6px solid var(--marigold); background: var(--amber-wash); border-radius: 4px; padding: 0.5rem 0.8rem; }
.first strong { text-transform: capitalize; }
.first.trouble { border-color: var(--vermilion); background: var(--vermilion-wash); }
svg { width: 100%; }
.track { fill: var(--linen); }
.full { fill: var(--teal); }
.low { fill: var(--marigold); }
.enough { color: var(--teal); }
.short { color: var(--vermilion); }
</style>
