<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import { useRack } from "../../api/queries";
import { useHas } from "../../composables/features";
import { useMachine, useMachineId } from "../../composables/machine";
import CautionList from "../../parts/CautionList.vue";
import FiguresNote from "../../parts/FiguresNote.vue";
import OwnSays from "../../parts/OwnSays.vue";
import ReasonList from "../../parts/ReasonList.vue";
import { day } from "../../words";
import ByHand from "./ByHand.vue";
import DropInWalk from "./DropInWalk.vue";
import OtherCase from "../../parts/OtherCase.vue";
import GaugeCheck from "./GaugeCheck.vue";
import NumberPanel from "./NumberPanel.vue";
import PullPad from "./PullPad.vue";
import ReadAnswer from "./ReadAnswer.vue";
import { beginReading } from "./reading";
import SwapPanel from "./SwapPanel.vue";
import ThroatNote from "./ThroatNote.vue";

const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const has = useHas();
const item = useMachine();
const machine = useMachineId();
/** The one thing that tells which reading is usual, asked where it is needed. */
const asksThroat = computed(
  () => has("longarm") && has("gauge") && !props.station.target && item.value?.spec.throat_in == null,
);
const { data: rack } = useRack(machine);
const cases = computed(() => [
  { value: 0, name: "no case noted" },
  ...(rack.value?.cases ?? []).map((c) => ({ value: c.id, name: `${c.spec.label}${c.fault ? ` (${c.fault})` : ""}` })),
]);
const reading = beginReading(() => props.station);
const shown = computed(() => reading.judged ?? props.station.last ?? null);
</script>

<template>
  <div class="station together">
    <div>
      <OtherCase v-if="station.other_case" :advice="station.other_case" :setup="station.setup" />
      <InTurn><ReadAnswer :station="station" :shown="shown" :several="cases.length > 2" /></InTurn>
      <InTurn v-if="has('case')"><NumberPanel :station="station" /></InTurn>
      <OwnSays station="bobbin" />
      <SwapPanel v-if="shown?.verdict === 'fluttering'" :case-id="reading.caseId" :item="0" />
      <section v-if="shown" class="panel stack">
        <h2>Why</h2>
        <ReasonList :reasons="shown.reasons" />
        <CautionList :cautions="shown.cautions" />
        <FiguresNote subject="bobbin" />
      </section>
    </div>
    <div>
      <DropInWalk v-if="has('drop_in')" />
      <ThroatNote v-if="asksThroat" />
      <InTurn v-if="has('gauge')"><PullPad :cases="cases" /></InTurn>
      <ByHand v-if="has('case')" :case-id="reading.caseId" :open="has('by_hand')" />
      <InTurn v-if="has('gauge')"><GaugeCheck :station="station" /></InTurn>
      <section v-if="station.conditions.length" class="panel">
        <h2>How you read it makes a difference</h2>
        <p v-for="c in station.conditions" :key="c.what">{{ c.text }}</p>
      </section>
      <section v-if="station.recent.length" class="panel">
        <h2>Before</h2>
        <table>
          <tbody>
            <tr v-for="r in station.recent.filter((e) => !e.struck_at).slice(0, 6)" :key="r.id">
              <td class="soft">{{ day(r.at) }}</td>
              <td>{{ r.setup.bobbin?.name }}</td>
              <td>{{ r.text }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 0.35rem 0.4rem 0.35rem 0;
  border-top: 1px solid var(--rule);
}
</style>
