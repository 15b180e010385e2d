<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import { usePutOnTop } from "../../composables/send";
import LockInCloth from "../../diagrams/LockInCloth.vue";
import { drawnPair } from "../../drawn";
import ColorDot from "../../parts/ColorDot.vue";
import { fixed } from "../../words";

/** What runs through the needle and what lies below, the largest thing on the station, and what was on top before. */
const props = defineProps<{
  setup: Schemas["Setup"];
  /** How thick what is on top is, several threads as one. */
  topMm: number | null;
  before: readonly Schemas["TopBefore"][];
}>();
const back = usePutOnTop();
/** Both threads in cloth, where each is known. */
const seam = computed(() => {
  const { topMm } = props;
  const [top, bobbin] = [props.setup.top?.[0], props.setup.bobbin];
  if (!top || topMm === null || !bobbin || props.setup.bobbin_work) return null;
  const drawn = drawnPair(top, bobbin);
  const [above, below] = [topMm, bobbin.diameter_mm].map((mm) => `${fixed(mm, 2)} mm`);
  return {
    ...drawn,
    topMm,
    bobbinMm: bobbin.diameter_mm,
    words: `Both threads in cloth, to scale: ${above} on top, ${below} below.`,
  };
});
const slots = computed(() => [
  { name: "On top", threads: props.setup.top ?? [], empty: "Choose a top thread below" },
  {
    name: props.setup.bobbin_work ? "In the bobbin, showing: quilt face down" : "In the bobbin",
    threads: props.setup.bobbin ? [props.setup.bobbin] : [],
    empty: "Choose a bobbin thread below",
  },
]);
</script>

<template>
  <section class="pair" aria-label="On the machine">
    <div v-for="slot in slots" :key="slot.name" class="panel slot">
      <span class="soft">{{ slot.name }}</span>
      <p v-if="slot.threads.length === 0" class="empty">{{ slot.empty }}</p>
      <p v-if="slot.threads.length > 1" class="facts">{{ slot.threads.length }} threads together</p>
      <div v-for="t in slot.threads" :key="t.id" class="one" :class="{ many: slot.threads.length > 1 }">
        <svg viewBox="0 0 56 56" width="56" height="56" aria-hidden="true">
          <rect x="6" y="2" width="44" height="5" rx="2" class="flange" />
          <rect x="6" y="49" width="44" height="5" rx="2" class="flange" />
          <rect x="11" y="7" width="34" height="42" :fill="t.color" class="swatch" />
          <path d="M11 14l34 4M11 21l34 4M11 28l34 4M11 35l34 4M11 42l34 4" stroke="#0003" />
        </svg>
        <p>
          <strong class="name">{{ t.name }}</strong>
          <span class="facts">{{ t.words }} · {{ fixed(t.tex, 1) }} tex · {{ fixed(t.diameter_mm, 2) }} mm</span>
        </p>
      </div>
    </div>
    <figure v-if="seam" class="seam">
      <LockInCloth v-bind="seam" />
      <figcaption class="soft">Twenty times as large</figcaption>
    </figure>
    <div v-if="before.length" class="before" role="group" aria-label="On top before">
      <span class="soft">Back on top:</span>
      <button
        v-for="b in before"
        :key="b.top.join()"
        type="button"
        class="toggle"
        :disabled="back.pending.value"
        @click="back.go([...b.top])">
        <ColorDot :color="b.color" :size="16" />
        <bdi>{{ b.name }}</bdi>
      </button>
      <span v-if="back.problem.value" class="field-error" role="alert">{{ back.problem.value.message }}</span>
    </div>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1.25rem;
}
.slot {
  display: grid;
  gap: 0.4rem;
  align-content: start;
  border-top-color: var(--marigold);
}
.one {
  display: flex;
  gap: 1rem;
  align-items: center;
}
.name {
  display: block;
  font-size: var(--type-large);
  line-height: 1.1;
}
.facts {
  color: var(--ink-soft);
}
.many svg {
  width: 30px;
  height: 30px;
}
.many .name {
  font-size: var(--type-head);
}
.empty {
  font-size: var(--type-head);
  font-weight: 600;
}
.seam {
  grid-column: 1 / -1;
  margin: -0.4rem 0;
  position: relative;
  background: var(--panel);
  border-radius: 4px;
}
.seam figcaption {
  position: absolute;
  right: 0.4rem;
  top: 50%;
  transform: translateY(-50%);
  background: var(--panel);
  border-radius: 4px;
  padding: 0.1rem 0.5rem;
  font-size: var(--type-small);
}
.before {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.6rem;
  align-items: center;
}
.before button {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
.flange {
  fill: var(--steel-light);
  stroke: var(--steel);
}
@media (max-width: 700px) {
  /* Two threads, one line: what is done with them comes first on a phone. */
  .pair {
    gap: 0.5rem;
  }
  .seam {
    display: none;
  }
  .one {
    gap: 0.5rem;
  }
  .one svg {
    flex: none;
    width: 26px;
    height: 26px;
  }
  .name {
    font-size: var(--type-lead);
  }
  .facts {
    font-size: var(--type-small);
  }
  .empty {
    font-size: var(--type-lead);
  }
}
@media (max-width: 360px) {
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
