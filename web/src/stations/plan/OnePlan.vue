<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useSend, useTakeBack } from "../../composables/send";
import QuiltDrawn from "../../diagrams/QuiltDrawn.vue";
import ColorDot from "../../parts/ColorDot.vue";
import { onPaper, stretch } from "../../units";
import { counted, day, duration, figure, fixed, percent } from "../../words";
import ConeLine from "./ConeLine.vue";

/** One plan: what is left of it and the next act, drawn as it fills; then its passes in order, evenings, and thread. */
const props = defineProps<{ page: Schemas["PlanPage"] }>();
defineEmits<{ change: [] }>();
const takeBack = useTakeBack();
type Pass = Schemas["PassItem"];
const step = useSend(
  (input: { key: number; stage: "begun" | "done" | "dropped"; share?: number }) =>
    answer(
      client.POST("/api/plans/{plan_id}/steps", { params: { path: { plan_id: props.page.id } }, body: { ...input } }),
    ),
  {
    says: (noted: Schemas["Noted"][]) => `Noted: ${noted.map((n) => n.text).join(". ")}.`,
    undo: (noted) => () => void takeBack.go(noted.map((n) => n.id)),
    waits: true,
  },
);
const inOrder = computed(() => {
  const places = (p: Pass) => p.place ?? (p.stage === "dropped" ? 200 : 0);
  return [...props.page.passes].sort((a, b) => places(a) - places(b));
});
const on = computed(() => props.page.passes.find((p) => p.key === props.page.on));
const next = computed(() => inOrder.value.find((p) => p.place !== null));
const hours = (h: Schemas["Likely"]) => duration(h.likely * 60);
const between = (h: Schemas["Likely"], unit: (v: number) => string) => `${unit(h.low)} to ${unit(h.high)}`;
const plainHours = (h: number) => figure(+h.toFixed(h < 10 ? 1 : 0));
const SHARES = [0.25, 0.5, 0.75];
const stage = (p: Pass) =>
  p.stage === "done" ? "done" : p.stage === "dropped" ? "left out" : p.share ? percent(p.share) : "";
const total = computed(() => {
  const left = props.page.hours_left;
  return { figure: plainHours(left.likely), range: between(left, plainHours) };
});
/** Bobbins are wound whole. */
const wind = computed(() => {
  const left = props.page.bobbins_left;
  if (!left) return "";
  const [low, likely, high] = [left.low, left.likely, left.high].map((n) => Math.max(1, Math.ceil(n))) as [
    number,
    number,
    number,
  ];
  return counted(likely, "bobbin") + (low < high ? `, most likely ${low} to ${high}` : "");
});
</script>

<template>
  <section class="panel lead" aria-labelledby="plan-name">
    <div class="drawn"><QuiltDrawn :page="page" /></div>
    <div class="stack">
      <h2 id="plan-name" class="soft">
        <span dir="auto">{{ page.plan.quilt }}</span> on {{ page.machine }}, {{ percent(page.share) }} sewn
      </h2>
      <p v-if="page.finished_says || !next" class="answer">Done</p>
      <p v-else class="answer">
        {{ total.figure }} <small>{{ total.figure === "1" ? "hour" : "hours" }} left, {{ total.range }}</small>
      </p>
      <p v-if="page.finished_says" class="verdict">{{ page.finished_says }}</p>
      <p v-if="next && wind" class="verdict">{{ wind }}</p>
      <template v-if="on">
        <p class="verdict">On now: {{ on.words }}, {{ percent(on.share) }}</p>
        <p v-if="on.way">{{ on.way.text }}</p>
        <div class="row" role="group" aria-label="How far it is">
          <Button
            :label="`${on.words} is done`"
            :loading="step.pending.value"
            @click="step.go({ key: on.key, stage: 'done' })" />
          <button
            v-for="s in SHARES"
            :key="s"
            type="button"
            class="toggle"
            @click="step.go({ key: on.key, stage: 'begun', share: s })">
            {{ percent(s) }}
          </button>
        </div>
      </template>
      <div v-else-if="next" class="row">
        <Button
          :label="`Begin: ${next.words}`"
          :loading="step.pending.value"
          @click="step.go({ key: next.key, stage: 'begun' })" />
      </div>
      <p v-if="step.problem.value" class="field-error" role="alert">{{ step.problem.value.message }}</p>
      <p v-if="page.machine_retired" class="field-error">{{ page.machine }} is retired. Change the plan's machine.</p>
    </div>
  </section>

  <section class="panel stack" aria-labelledby="order-title">
    <h2 id="order-title">{{ next ? "In this order" : "Its passes" }}</h2>
    <p v-if="next" class="verdict">{{ page.order.text }}</p>
    <ol class="passes">
      <li v-for="p in inOrder" :key="p.key" :class="{ over: p.place === null, on: p.key === page.on }">
        <span class="place" aria-hidden="true">{{ p.place ?? (p.stage === "done" ? "✓" : "–") }}</span>
        <div class="what">
          <strong dir="auto">{{ p.words }}</strong>{{ " " }}<span class="soft">{{ stage(p) }}</span>
          <p class="soft">
            <ColorDot v-if="p.top_color" :color="p.top_color" :size="16" />
            {{ p.top || "Thread open" }}<template v-if="p.below"> over {{ p.below }}</template
            ><template v-if="p.needle">, {{ p.needle }}</template
            ><template v-if="p.machine !== page.machine">, on {{ p.machine }}</template>
          </p>
          <p v-if="p.change.length && p.place" class="soft">
            Before it: {{ p.change.join(", ") }} ({{ Math.round(p.change_minutes) }} min)
          </p>
          <p v-if="p.problem" class="field-error">{{ p.problem }}</p>
          <p v-if="p.way && p.key !== page.on">{{ p.way.text }}</p>
        </div>
        <div class="figures">
          <strong>{{ hours(p.hours) }}</strong>
          <span class="soft">{{ stretch(p.stitched_m.likely) }}</span>
          <span v-if="p.bobbins" class="soft">{{ fixed(p.bobbins.likely, 1) }} bobbins</span>
        </div>
        <div class="acts">
          <Button
            v-if="p.place !== null && p.key !== page.on && (on || p !== next)"
            label="Sew this now"
            text
            @click="step.go({ key: p.key, stage: 'begun' })" />
          <Button
            v-if="p.place !== null && p.key !== page.on"
            label="Leave it out"
            text
            @click="step.go({ key: p.key, stage: 'dropped' })" />
        </div>
      </li>
    </ol>
    <details>
      <summary>Why</summary>
      <p>{{ page.rests_on }} A range holds 8 quilts in 10.</p>
      <p v-for="why in new Set(page.order.rules.map((r) => r.why))" :key="why">{{ why }}</p>
      <p v-for="p in page.passes.filter((each) => each.taken_as_usual.length)" :key="p.key">
        {{ p.words }}: nobody said {{ p.taken_as_usual.join(" and ") }}, so we took the usual.
      </p>
      <p>
        {{ stretch(page.stitched_m.likely) }} of stitching takes {{ stretch(page.thread_m.likely) }} of thread on top,
        and as much below<template v-if="page.cost !== null">, for about {{ fixed(page.cost, 2) }}</template
        >. On the way: {{ counted(page.test_lines, "test line") }}, {{ counted(page.cleanings, "cleaning") }},
        {{ counted(page.oilings, "oiling") }}.
      </p>
    </details>
  </section>

  <section v-if="page.threads.length" class="panel stack" aria-labelledby="thread-title">
    <h2 id="thread-title">Will the thread last?</h2>
    <ConeLine v-for="t in page.threads" :key="t.id" :thread="t" />
  </section>

  <section v-if="page.evenings.length" class="panel stack" aria-labelledby="evenings-title">
    <h2 id="evenings-title">{{ page.evenings.length === 1 ? "One evening" : `${page.evenings.length} evenings` }}</h2>
    <ol class="evenings">
      <li v-for="e in page.evenings" :key="e.number">
        <strong>{{ e.day ? day(`${e.day}T12:00`) : `Evening ${e.number}` }}</strong>{{ " "
        }}<span class="soft">{{ duration(e.hours * 60) }}</span>
        <p v-if="e.before.length">{{ e.before.join(". ") }}.</p>
        <p v-for="part in e.passes" :key="`${part.key} ${part.from_share}`">
          <template v-if="part.before.length">{{ part.before.join(". ") }}.<br /></template>
          <strong>Sew {{ part.sews }}.</strong>
        </p>
        <p v-if="e.after.length">At the end: {{ e.after.join(". ") }}.</p>
      </li>
    </ol>
  </section>

  <div class="row">
    <Button label="Change the plan" outlined @click="$emit('change')" />
    <a :href="`/api/plans/${page.id}/plan.pdf?${onPaper()}`" class="step-link">Print the plan</a>
    <a v-if="page.plan.starts" :href="`/api/plans/${page.id}/calendar.ics`" class="step-link" download="plan.ics"
      >Into your calendar</a
    >
    <RouterLink
      :to="{ name: 'log', params: { machine: page.machine_id }, query: { quilt: page.plan.quilt } }"
      class="step-link"
      >Its records</RouterLink
    >
  </div>
</template>

<style scoped>
.lead {
  display: grid;
  grid-template-columns: minmax(9rem, 15rem) minmax(0, 1fr);
  gap: 1.25rem;
  border-top-color: var(--marigold);
}
/* A pass may have a long name of its owner's own. */
.lead :deep(.p-button-label) {
  overflow-wrap: anywhere;
}
.passes,
.evenings {
  list-style: none;
  margin: 0;
  padding: 0;
}
.passes > li {
  display: grid;
  grid-template-columns: 1.6rem minmax(0, 1fr) auto 17rem;
  gap: 0.2rem 0.8rem;
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
.passes > li.on {
  background: var(--amber-wash);
}
.place {
  font-weight: 700;
  text-align: center;
}
.over .what strong {
  font-weight: 560;
}
.what p {
  font-size: var(--type-small);
}
.figures {
  display: grid;
  justify-items: end;
  text-align: right;
}
.figures span {
  font-size: var(--type-small);
}
.acts {
  display: flex;
  justify-content: end;
}
.evenings > li {
  border-top: 1px solid var(--rule);
  padding: 0.4rem 0;
}
@media (max-width: 1100px) {
  .passes > li {
    grid-template-columns: 1.6rem minmax(0, 1fr) auto;
  }
  .acts {
    grid-column: 2 / -1;
    justify-content: start;
  }
  .acts:empty {
    display: none;
  }
}
@media (max-width: 600px) {
  .lead {
    grid-template-columns: minmax(0, 1fr);
  }
  .drawn {
    order: 2;
    max-width: 22rem;
  }
}
</style>
