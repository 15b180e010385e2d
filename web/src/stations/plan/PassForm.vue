<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed } from "vue";
import type { Schemas } from "../../api/client";
import { useThread, useWords } from "../../api/queries";
import DensityPicture from "../../diagrams/DensityPicture.vue";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import ThreadChoice from "../../parts/ThreadChoice.vue";
import { sideUnit, smallUnit, stretchUnit } from "../../units";
import { percent } from "../../words";
import type { PassFields } from "./passFields";

/** One pass of a plan: folded to a line, or open with what can be said of it. All of it may stay open. */
const props = defineProps<{ open: boolean; machines: Schemas["MachineItem"][] }>();
defineEmits<{ open: []; remove: [] }>();
const pass = defineModel<PassFields>({ required: true });
const { data: words } = useWords();
const word = computed(() => words.value?.passes.find((w) => w.value === pass.value.what));
const SHARES = [0.1, 0.2, 0.3, 0.5, 0.7, 1];
const dense = computed(() => word.value?.density);
const { data: top } = useThread(computed(() => pass.value.top));
const { data: below } = useThread(computed(() => pass.value.below));
const others = computed(() => [
  { value: 0, name: "The plan's machine" },
  ...props.machines.filter((m) => !m.spec.retired).map((m) => ({ value: m.id, name: m.spec.nickname })),
]);
const line = computed(() => {
  const density = words.value?.densities.find((d) => d.value === pass.value.density);
  const parts = [
    pass.value.share && word.value?.covers ? percent(pass.value.share) : "",
    density?.name.toLowerCase() ?? "",
    top.value?.spec.name ?? "",
    below.value ? `over ${below.value.spec.name}` : "",
  ];
  return parts.filter(Boolean).join(", ") || "all as usual";
});
</script>

<template>
  <section class="pass" :aria-label="word?.name">
    <button type="button" class="fold" :aria-expanded="open" @click="$emit('open')">
      <strong>{{ pass.name || word?.name }}</strong> <span class="soft">{{ line }}</span>
    </button>
    <div v-if="open" class="stack body">
      <div v-if="word?.covers" class="row" role="group" aria-label="How much of the quilt">
        <span class="soft">How much</span>
        <button
          v-for="s in SHARES"
          :key="s"
          type="button"
          class="toggle"
          :aria-pressed="pass.share === s"
          @click="pass.share = pass.share === s ? null : s">
          {{ percent(s) }}
        </button>
      </div>
      <div v-if="dense" class="densities" role="group" aria-label="How dense">
        <button
          v-for="d in words?.densities"
          :key="d.value"
          type="button"
          :aria-pressed="pass.density === d.value"
          @click="pass.density = pass.density === d.value ? null : d.value">
          <DensityPicture :apart="d.apart_mm" />
          <span>{{ d.name }}</span>
        </button>
      </div>
      <div class="pairs">
        <ThreadChoice
          :key="`top ${top?.id ?? 0}`"
          v-model="pass.top"
          label="Thread on top"
          :known="top ? `${top.spec.name} (${top.words})` : undefined" />
        <ThreadChoice
          :key="`below ${below?.id ?? 0}`"
          v-model="pass.below"
          label="Bobbin thread"
          :known="below ? `${below.spec.name} (${below.words})` : undefined" />
      </div>
      <details>
        <summary>More of this pass</summary>
        <div class="pairs">
          <FieldBox v-if="dense" :label="`Lines apart, ${smallUnit()}`"
            ><InputText v-model="pass.apart" inputmode="decimal"
          /></FieldBox>
          <FieldBox v-if="pass.what === 'ditch'" :label="`Side of a block, ${sideUnit()}`"
            ><InputText v-model="pass.block" inputmode="decimal"
          /></FieldBox>
          <FieldBox :label="`Stitching in all, ${stretchUnit()}, if a pattern says it`"
            ><InputText v-model="pass.meters" inputmode="decimal"
          /></FieldBox>
          <FieldBox label="Stitch length, mm"><InputText v-model="pass.stitch" inputmode="decimal" /></FieldBox>
          <ChoiceBox v-model="pass.machine" label="Sewn on" :options="others" />
          <FieldBox label="Your own name for it"><InputText v-model="pass.name" /></FieldBox>
        </div>
      </details>
      <div class="row"><Button label="Remove this pass" text @click="$emit('remove')" /></div>
    </div>
  </section>
</template>

<style scoped>
.pass {
  border-top: 1px solid var(--rule);
}
.fold {
  width: 100%;
  min-height: 48px;
  border: 0;
  background: none;
  text-align: left;
  padding: 0.3rem 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.8rem;
  align-items: center;
}
.body {
  padding-bottom: 0.8rem;
}
.densities {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 0.5rem;
}
.densities button {
  border: 2px solid var(--rule);
  border-radius: 4px;
  background: var(--panel);
  padding: 0.3rem;
  display: grid;
  gap: 0.2rem;
  font-size: var(--type-small);
}
.densities button[aria-pressed="true"] {
  border-color: var(--marigold);
  background: var(--amber-wash);
}
@media (max-width: 600px) {
  .pairs {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 900px) {
  .densities {
    grid-template-columns: repeat(3, minmax(0, 1fr));
  }
}
</style>
