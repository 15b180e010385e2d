<script setup lang="ts">
import { computed, useId } from "vue";
import type { Schemas } from "../api/client";
import { useWords } from "../api/queries";
import { percent } from "../words";

/** The quilt as it is planned: each pass where it lies, as far as it is sewn in its thread, the rest as pencil lines. */
const props = defineProps<{ page: Schemas["PlanPage"] }>();
const id = useId();
const { data: words } = useWords();
const WIDE = 100;
const tall = computed(() => (WIDE * props.page.height_m) / props.page.width_m);
const blocks = computed(() => ({ across: 4, down: Math.max(2, Math.round(tall.value / 25)) }));
type Pass = Schemas["PassItem"];
type Said = Schemas["Pass"];
interface Drawn {
  key: number;
  d: string;
  color: string;
  share: number;
  width: number;
}
/** Lines over the cloth, so many as a picture this small can show. */
function lines(kind: Said["what"], apart: number): string {
  const [w, h] = [WIDE, tall.value];
  const step = Math.max(2.2, Math.min(12, apart / 3.2));
  let d = "";
  if (kind === "binding") return `M1 1H${w - 1}V${h - 1}H1Z`;
  if (kind === "ditch" || kind === "outline") {
    const inset = kind === "ditch" ? 0 : 1.6;
    for (let i = 1; i < blocks.value.across; i++) d += `M${(w / blocks.value.across) * i + inset} 6V${h - 6}`;
    for (let i = 1; i < blocks.value.down; i++) d += `M6 ${(h / blocks.value.down) * i + inset}H${w - 6}`;
    return d;
  }
  if (kind === "border") {
    for (let x = 3; x < w - 3; x += step * 1.6) d += `M${x} 3l${step * 0.8} 3M${x} ${h - 6}l${step * 0.8} 3`;
    for (let y = 6; y < h - 6; y += step * 1.6) d += `M3 ${y}l3 ${step * 0.8}M${w - 6} ${y}l3 ${step * 0.8}`;
    return d;
  }
  if (kind === "motif") {
    const [bw, bh] = [w / blocks.value.across, h / blocks.value.down];
    for (let i = 0; i < blocks.value.across; i++)
      for (let j = 0; j < blocks.value.down; j++)
        if ((i + j) % 2) {
          const [x, y, r] = [(i + 0.5) * bw, (j + 0.5) * bh, Math.min(bw, bh) * 0.3];
          for (const turn of [0, 60, 120]) {
            const [dx, dy] = [r * Math.cos((turn * Math.PI) / 180), r * Math.sin((turn * Math.PI) / 180)];
            d += `M${x - dx} ${y - dy}Q${x - dy} ${y + dx} ${x + dx} ${y + dy}Q${x + dy} ${y - dx} ${x - dx} ${y - dy}`;
          }
        }
    return d;
  }
  const edge = kind === "fill" ? 7 : 2;
  for (let y = edge + step / 2; y < h - edge; y += step) {
    d += `M${edge} ${y}`;
    const wave = step * 1.5;
    for (let x = edge; x + wave <= w - edge; x += wave) d += `q${wave / 4} ${-step * 0.4} ${wave / 2} 0t${wave / 2} 0`;
  }
  return d;
}
const drawn = computed<Drawn[]>(() => {
  const said = new Map(props.page.plan.passes.map((p) => [p.key, p as Said]));
  return props.page.passes
    .filter((p) => p.stage !== "dropped" && said.has(p.key))
    .map((p: Pass) => {
      const s = said.get(p.key) as Said;
      const usual = words.value?.passes.find((w) => w.value === s.what)?.density;
      const apart = words.value?.densities.find((d) => d.value === (s.density ?? usual))?.apart_mm ?? 0;
      const kind = s.what;
      return {
        key: p.key,
        d: lines(kind, s.lines_apart_mm ?? apart),
        color: p.top_color || "#1f2a56",
        share: p.share,
        width: kind === "ditch" || kind === "binding" ? 1.1 : 0.7,
      };
    });
});
const says = computed(() =>
  props.page.passes.map((p) => `${p.words}: ${p.stage === "dropped" ? "left out" : percent(p.share)}`).join("; "),
);
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} ${tall}`" role="img" :aria-label="`The quilt as sewn so far. ${says}.`">
    <rect :width="WIDE" :height="tall" class="cloth" />
    <g v-for="p in drawn" :key="p.key" fill="none" :stroke-width="p.width">
      <clipPath :id="`${id}-${p.key}`"><rect :width="WIDE" :height="tall * p.share" /></clipPath>
      <clipPath :id="`${id}-${p.key}-left`">
        <rect :width="WIDE" :y="tall * p.share" :height="tall * (1 - p.share)" />
      </clipPath>
      <path v-if="p.share < 1" :d="p.d" class="pencil" :clip-path="`url(#${id}-${p.key}-left)`" />
      <g v-if="p.share > 0" :clip-path="`url(#${id}-${p.key})`">
        <path :d="p.d" class="outline" :stroke-width="p.width + 0.7" />
        <path :d="p.d" :stroke="p.color" />
      </g>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 19rem;
}
@media (max-width: 600px) {
  svg {
    max-height: none;
  }
}
.cloth {
  fill: #f2f0e8;
  stroke: #66718c;
  stroke-width: 0.6;
}
.pencil {
  stroke: #6d7891;
  stroke-width: 0.35;
  stroke-dasharray: 1.4 1.1;
}
.outline {
  stroke: #3a4363;
}
</style>
