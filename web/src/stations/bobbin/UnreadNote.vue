<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";
import type { Schemas } from "../../api/client";
import { useHas } from "../../composables/features";
import { useMachineId } from "../../composables/machine";
import { counted, moment } from "../../words";

/** A bobbin that no gauge has read: what is known of it without, and what to do now. */
const props = defineProps<{ station: Schemas["BobbinStation"] }>();
const has = useHas();
const machine = useMachineId();
const router = useRouter();
const toBalance = () => void router.push({ name: "balance", params: { machine: machine.value } });
const FEEL_SAYS = {
  loose: "Tighten the larger screw a little, five minutes of a clock face at most, and feel it again.",
  tight: "Loosen the larger screw a little, five minutes of a clock face at most, and feel it again.",
};
const says = computed<{ over?: string; head: string; text: string }>(() => {
  const { setup, waits, felt_off: off, turned, turn_first: first, turn_by_hand: learned } = props.station;
  const felt = setup.felt;
  if (has("drop_in"))
    return {
      head: "The stitch is its gauge",
      text: "This bobbin drops in, by the arrow on the machine. Stitch a test, and judge top and bobbin by it.",
    };
  if (felt)
    return {
      over: `By the ${felt.test} test, ${moment(felt.felt_at)}`,
      head: off?.then === "leave" ? "Leave the screw" : `It feels ${felt.feel}`,
      text: felt.feel === "right" ? "Good enough to go on." : off?.text || FEEL_SAYS[felt.feel],
    };
  if (turned)
    return {
      head: turned,
      text: has("by_hand")
        ? "The next test by hand says whether that was enough."
        : "The next reading says what the turn did, and how this screw answers.",
    };
  if (waits) return { head: "It may wait", text: waits.text };
  if (first) {
    const { direction, minutes } = first.advice;
    const way = direction === "tighten" ? "Tighten" : "Loosen";
    return { head: `${way} ${counted(minutes, "minute")}${first.unread ? "" : ", then pull"}`, text: first.text };
  }
  if (learned) {
    const minutes = Math.abs(learned.minutes);
    const way = learned.minutes > 0 ? "Tighten" : "Loosen";
    return {
      head: minutes
        ? `${way} ${counted(minutes, "minute")}${learned.unread ? "" : ", then feel it"}`
        : "Feel the bobbin",
      text: learned.text,
    };
  }
  const done = has("by_hand") ? "felt" : "read";
  const unread = setup.bobbin ? `${setup.bobbin.name} hasn't been ${done}.` : "Full bobbin, case clicked in.";
  return has("by_hand")
    ? {
        head: "Feel the bobbin",
        text: `${unread} Hang it by its thread, or lay it on your palm, and tap what it does.`,
      }
    : { head: "Pull the gauge", text: `${unread} Two or three long, even pulls. Type each.` };
});
</script>

<template>
  <p v-if="says.over" class="soft">{{ says.over }}</p>
  <p class="answer ask" data-answer>{{ says.head }}</p>
  <p class="text">{{ says.text }}</p>
  <Button
    v-if="has('drop_in') || station.felt_off?.then === 'leave'"
    label="Stitch a test"
    size="large"
    class="go"
    @click="toBalance" />
</template>

<style scoped>
.go {
  margin-top: 0.8rem;
}
.ask {
  font-size: var(--type-large);
}
</style>
