<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { answer, client, type Problem, type Schemas } from "../../api/client";
import { ifMatch } from "../../composables/seen";
import { useSend, useTakeBack } from "../../composables/send";
import { drawnPair } from "../../drawn";
import FieldBox from "../../parts/FieldBox.vue";
import MomentBox from "../../parts/MomentBox.vue";
import ToggleRow from "../../parts/ToggleRow.vue";
import { counted, day, figure, listed, MOTION_SAYS } from "../../words";
import ClothsBeside from "./ClothsBeside.vue";
import GradeBoard from "./GradeBoard.vue";

/** One test cloth: what it was stitched with, its rows to judge, and what they found. */
const props = defineProps<{ cloth: Schemas["ClothItem"]; others: Schemas["ClothItem"][] }>();
const emit = defineEmits<{ close: [] }>();
type Motion = Schemas["Motion"];
const MOTIONS = Object.keys(MOTION_SAYS) as Motion[];
const path = computed(() => ({ params: { path: { cloth_id: props.cloth.id } } }));
const motion = ref<Motion>(props.cloth.rows[0]?.motion ?? "free_motion");
const row = computed(() => props.cloth.rows.find((r) => r.motion === motion.value));
const drawn = computed(() => drawnPair({ color: props.cloth.top_color }, { color: props.cloth.bobbin_color }));

/** Where lines can be: the steps of the whole scale, and those that are there. */
const { data: ladder } = useQuery({
  queryKey: computed(() => ["ladder", props.cloth.machine_id, "full", motion.value]),
  queryFn: () =>
    answer(
      client.POST("/api/machines/{machine_id}/ladder", {
        params: { path: { machine_id: props.cloth.machine_id } },
        body: { plan: "full", motion: motion.value },
      }),
    ),
});
const graded = computed(() => Object.fromEntries((row.value?.lines ?? []).map((l) => [l.setting, l.grade])));
const more = ref<number[]>([]);
watch(motion, () => (more.value = []));
const settings = computed(() => {
  const steps = props.cloth.retired ? [] : (ladder.value?.settings ?? []);
  const lines = row.value?.lines.map((l) => l.setting) ?? [];
  return [...new Set([...steps, ...lines, ...more.value])].sort((a, b) => a - b);
});
const named = (setting: number) =>
  row.value?.lines.find((l) => l.setting === setting)?.setting_words ??
  ladder.value?.words[ladder.value.settings.indexOf(setting)] ??
  figure(+setting.toFixed(3));
const between = (i: number) => {
  const [a, b] = [settings.value[i] ?? 0, settings.value[i + 1] ?? 0];
  const middle = +((a + b) / 2).toFixed(3);
  return middle > a && middle < b ? middle : null;
};

interface Judged {
  setting: number;
  grade: number;
  instead: boolean;
}
const asked = ref<{ judged: Judged; says: string } | null>(null);
const judge = useSend(
  (judged: Judged) =>
    answer(client.POST("/api/cloths/{cloth_id}/lines", { ...path.value, body: { ...judged, motion: motion.value } })),
  { then: () => (asked.value = null) },
);
async function tap(setting: number, grade: number, instead = false) {
  asked.value = null;
  const judged = { setting, grade, instead };
  if ((await judge.go(judged)) !== null) return;
  const says = judge.error("instead");
  if (says) {
    judge.reset();
    asked.value = { judged, says };
  }
}

const name = ref("");
const takeBack = useTakeBack();
const keep = useSend(
  () => answer(client.POST("/api/cloths/{cloth_id}/recipes", { ...path.value, body: { name: name.value } })),
  {
    says: (kept) => `In the recipe book: ${counted(kept.length, "recipe")}.`,
    undo: (kept) => () => void takeBack.go(kept.map((entry) => entry.id)),
    then: () => (name.value = ""),
  },
);
const good = computed(() => props.cloth.rows.filter((r) => r.found.balanced.length).length);

const number = ref(String(props.cloth.number));
const note = ref(props.cloth.note);
const at = ref<string | undefined>(props.cloth.at);
const correct = useSend(
  () =>
    answer(
      client.PUT("/api/cloths/{cloth_id}", {
        params: { path: { cloth_id: props.cloth.id }, header: ifMatch(props.cloth.version) },
        body: { number: Number(number.value), note: note.value, at: at.value },
      }),
    ),
  { says: (cloth) => `Corrected: cloth ${cloth.number}.` },
);
const problem = computed(() => judge.problem.value as Problem | null);
</script>

<template>
  <section class="panel stack" :aria-labelledby="`cloth-${cloth.id}`">
    <div class="head">
      <h2 :id="`cloth-${cloth.id}`" class="answer">Cloth {{ cloth.number }}</h2>
      <Button label="All cloths" text @click="emit('close')" />
    </div>
    <p class="soft">
      {{ cloth.machine }}, {{ day(cloth.at) }}<template v-if="cloth.quilt">, on {{ cloth.quilt }}</template
      ><template v-if="cloth.from_the_box">, from the box</template
      ><template v-if="cloth.struck">. This cloth was deleted</template>
    </p>
    <p class="verdict">
      {{ cloth.top || "No thread on record" }}<template v-if="cloth.bobbin"> over {{ cloth.bobbin }}</template>
    </p>
    <p>
      {{
        [cloth.needle, cloth.bobbin_reads && `bobbin ${cloth.bobbin_reads}`, cloth.batting].filter(Boolean).join(" · ")
      }}
    </p>
    <p v-if="cloth.face_down"><strong>Bobbin work</strong>, {{ cloth.face_down }}.</p>
    <p v-if="cloth.note">{{ cloth.note }}</p>
    <p v-if="cloth.scale_says" class="field-error">{{ cloth.scale_says }}</p>
    <dl v-if="cloth.rows.length" class="facts">
      <template v-for="r in cloth.rows" :key="r.motion">
        <dt>{{ MOTION_SAYS[r.motion] }}</dt>
        <dd>
          <strong>{{ r.found.text }}</strong>, {{ counted(r.lines.length, "line") }}
        </dd>
      </template>
    </dl>
    <ToggleRow v-model="motion" label="Row" :options="MOTIONS.map((m) => ({ value: m, name: MOTION_SAYS[m] }))" />
    <GradeBoard
      :settings="settings"
      :graded="graded"
      :named="named"
      :top="drawn.top"
      :bobbin="drawn.bobbin"
      :between="between"
      @tap="tap"
      @insert="more.push($event)" />
    <div v-if="asked" class="row asked" role="alert">
      <p>{{ asked.says }}</p>
      <Button label="Yes, change it" outlined @click="tap(asked.judged.setting, asked.judged.grade, true)" />
      <Button label="Leave it" text @click="asked = null" />
    </div>
    <p v-if="problem" class="field-error" role="alert">{{ problem.message }}</p>
    <form class="row keep" @submit.prevent="keep.go()">
      <FieldBox :name="name" label="Name for the recipes, like the quilt" :error="keep.error('name')"
        ><InputText v-model="name"
      /></FieldBox>
      <Button
        type="submit"
        :label="good > 1 ? `Save ${good} recipes, one a row` : 'Save as recipe'"
        :disabled="!good"
        :loading="keep.pending.value" />
    </form>
    <p v-if="keep.problem.value && !keep.error('name')" class="field-error">{{ keep.problem.value.message }}</p>
    <p v-if="cloth.recipes.length" class="soft">In the recipe book: {{ listed(cloth.recipes) }}.</p>
    <ClothsBeside :cloth="cloth" :others="others" />
    <details>
      <summary>Correct the number, the day or the note</summary>
      <form class="pairs" @submit.prevent="correct.go()">
        <FieldBox label="The number on it" :error="correct.error('number')"
          ><InputText v-model="number" inputmode="numeric"
        /></FieldBox>
        <MomentBox v-model="at" label="When it was stitched (its lines go with it)" :error="correct.error('at')" />
        <FieldBox label="Note" :error="correct.error('note')"><InputText v-model="note" /></FieldBox>
        <Button type="submit" label="Save the correction" outlined :loading="correct.pending.value" />
      </form>
      <p v-if="correct.problem.value" class="field-error" role="alert">{{ correct.problem.value.message }}</p>
    </details>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
.asked {
  background: var(--amber-wash);
  border-radius: 4px;
  padding: 0.4rem 0.9rem;
  align-items: center;
}
.keep {
  align-items: end;
}
</style>
