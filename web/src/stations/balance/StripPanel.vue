<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useHas } from "../../composables/features";
import { useHere } from "../../composables/machine";
import { useNote } from "../../composables/send";
import BalanceStrip from "../../diagrams/BalanceStrip.vue";
import { drawnPair } from "../../drawn";
import { counted } from "../../words";

/** All test lines on the strip, what the threads ask for beside them, and what counts as good enough. */
const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const scale = computed(() => props.station.scale);
const found = computed(() => props.station.estimate);
const looks = computed(() =>
  props.station.looks.flatMap((e) =>
    e.payload?.kind === "look" ? [{ setting: e.payload.setting, grade: e.payload.grade }] : [],
  ),
);
const top = computed(() => props.station.setup.top?.[0]);
const bobbin = computed(() => props.station.setup.bobbin);
const drawn = computed(() => drawnPair(top.value, bobbin.value));

/** What the action names: where to stitch, or where to leave it. */
const following = computed(() => found.value.act_at);
const here = useHere();
const has = useHas();
const advice = computed(() => props.station.guards.filter((g) => !g.blocks));
/** A look beside balanced that nobody called good enough yet. */
const acceptable = computed(() => {
  const { lowest, highest } = props.station.tolerance.accepted;
  const last = looks.value.at(-1)?.grade ?? 0;
  return Math.abs(last) === 1 && (last < (lowest ?? 0) || last > (highest ?? 0)) ? last : 0;
});
const accept = useNote((grade: number) =>
  answer(client.POST("/api/machines/{machine_id}/good-enough", { ...here(), body: { kind: "good_enough", grade } })),
);
/** Loosened for this thread is on target at the gauge, until the thread is off. */
const loosen = useNote(() =>
  answer(
    client.POST("/api/machines/{machine_id}/purpose", {
      ...here(),
      body: { kind: "bobbin_purpose", purpose: "delicate", target: null },
    }),
  ),
);
</script>

<template>
  <section class="panel stack">
    <h2>Your test lines</h2>
    <BalanceStrip
      :low="scale.low"
      :high="scale.high"
      :looks="looks"
      :expected="station.cut"
      :grid="found.grid"
      :density="found.density"
      :interval="[found.likely_low, found.likely_high]"
      :center="found.center"
      :following="following"
      :top="drawn.top"
      :bobbin="drawn.bobbin"
      :words="`The seam to expect along the scale, with ${counted(looks.length, 'line')} of yours. ${found.text}`" />
    <p class="soft">
      The thin seam is what to expect, loose to tight.<template v-if="looks.length">
        Your own lines are pinned on.</template
      >
    </p>
    <p v-if="station.next_says" class="soft">▲ {{ station.next_says }}</p>
    <div v-for="g in advice" :key="g.trap" class="caution">
      {{ g.text }}
      <Button
        v-if="g.trap === 'metallic' && has('case') && station.setup.purpose?.purpose !== 'delicate'"
        label="I loosen it for this thread"
        text
        :loading="loosen.pending.value"
        @click="loosen.go()" />
    </div>
    <p v-if="station.tolerance.why" class="good">Good enough here: {{ station.tolerance.why }}.</p>
    <div v-if="acceptable" class="row">
      <Button
        :label="`Good enough for this quilt: ${acceptable > 0 ? 'a few specks below' : 'a few dots on top'}`"
        outlined
        :loading="accept.pending.value"
        @click="accept.go(acceptable)" />
    </div>
    <Button v-else-if="station.setup.good_enough" label="Only balanced is good enough" text @click="accept.go(0)" />
  </section>
</template>

<style scoped>
.caution {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.6rem 0.9rem;
}
.good {
  font-size: var(--type-lead);
}
</style>
