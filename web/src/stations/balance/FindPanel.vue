<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { drawnPair } from "../../drawn";
import Button from "primevue/button";
import { computed, useTemplateRef } from "vue";
import type { Schemas } from "../../api/client";
import { useStrikeRecord } from "../../composables/send";
import ReasonList from "../../parts/ReasonList.vue";
import SandwichForm from "../../parts/SandwichForm.vue";
import FoundPanel from "./FoundPanel.vue";
import KeepForm from "./KeepForm.vue";
import LadderPanel from "./LadderPanel.vue";
import LookForm from "./LookForm.vue";
import StripPanel from "./StripPanel.vue";
import { fixed } from "../../words";

const props = defineProps<{ station: Schemas["BalanceStation"] }>();
const motion = defineModel<Schemas["Motion"]>("motion", { required: true });
const scale = computed(() => props.station.scale);
const found = computed(() => props.station.estimate);
/** A setting, or how far off a guess was, in the steps of its scale. */
const inSteps = (value: number) => fixed(value, scale.value.kind === "readout" ? 0 : 2);
const missed = (by: number) => inSteps(Math.abs(by));
const top = computed(() => props.station.setup.top?.[0]);
const bobbin = computed(() => props.station.setup.bobbin);
const drawn = computed(() => drawnPair(top.value, bobbin.value));
const records = useStrikeRecord();
/** A good line leads on: its recipe wants a name. */
const keep = useTemplateRef<HTMLElement>("keep");
function toKeep() {
  keep.value?.scrollIntoView({ block: "center" });
  keep.value?.querySelector("input")?.focus({ preventScroll: true });
}
</script>

<template>
  <div class="station together">
    <div>
      <InTurn><FoundPanel :station="station" :motion="motion" @keep="toKeep" /></InTurn>
      <template v-if="station.start || station.looks.length">
        <InTurn><StripPanel :station="station" /></InTurn>
        <section class="panel stack">
          <h2>Why</h2>
          <p>
            8 times in 10 the balance lies within {{ station.likely_words }}, 19 times in 20 within
            {{ station.surely_words }}.
          </p>
          <ReasonList :reasons="found.reasons" />
          <template v-if="station.start">
            <p>{{ station.start.text }}</p>
            <ul v-if="station.start.records.length" class="records">
              <li v-for="r in station.start.records" :key="r.name + r.setting">
                <strong>{{ r.name }}</strong> at {{ inSteps(r.setting)
                }}<span class="soft">
                  · our guess without it missed by
                  {{ missed(r.miss) }}</span
                >
              </li>
            </ul>
            <p v-if="station.start.typical_miss != null" class="soft">
              Such guesses missed by about {{ missed(station.start.typical_miss)
              }}<template v-if="station.start.school_miss != null"
                >, the usual setting alone by {{ missed(station.start.school_miss) }}</template
              >.
            </p>
          </template>
        </section>
      </template>
    </div>
    <div>
      <InTurn><LookForm v-model:motion="motion" :station="station" /></InTurn>
      <div ref="keep" class="hand">
        <InTurn><KeepForm :station="station" /></InTurn>
      </div>
      <InTurn><SandwichForm :sandwich="station.setup.sandwich ?? null" /></InTurn>
      <section v-if="station.looks.length" class="panel">
        <h2>Test lines for these threads</h2>
        <ol class="seen">
          <li v-for="e in [...station.looks].reverse()" :key="e.id">
            {{ e.text }}
            <Button
              label="Delete"
              text
              severity="secondary"
              :aria-label="`Delete ${e.text}`"
              @click="records.out(e.id, 'Deleted. It no longer counts.')" />
          </li>
        </ol>
      </section>
    </div>
    <div class="across">
      <InTurn><LadderPanel :motion="motion" :station="station" :top="drawn.top" :bobbin="drawn.bobbin" /></InTurn>
    </div>
  </div>
</template>

<style scoped>
.across {
  grid-column: 1 / -1;
}
.records,
.seen {
  margin: 0;
  padding: 0;
  list-style: none;
}
.records li,
.seen li {
  padding: 0.3rem 0;
  border-top: 1px solid var(--rule);
}
.seen li {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
</style>
