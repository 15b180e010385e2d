<script setup lang="ts">
import { useDraft } from "../../composables/draft";
import DraftNote from "../../parts/DraftNote.vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, reactive, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useNeedleDrawer, useWords } from "../../api/queries";
import { useMachine, useMachineId } from "../../composables/machine";
import ChoiceBox from "../../parts/ChoiceBox.vue";
import FieldBox from "../../parts/FieldBox.vue";
import { fixed, STANDING } from "../../words";
import EyePasses from "./EyePasses.vue";
import { useSend, useStriking } from "../../composables/send";
import { numberIn, optionalNumber } from "../../composables/fields";

/** Needles that are owned, what an hour of each costs, and what the user's own needles have lasted. */
const machine = useMachineId();
const { data } = useNeedleDrawer(machine);
const { data: words } = useWords();
const item = useMachine();
const takes = computed(() => item.value?.spec.needle_system ?? "");
const sizes = computed(() =>
  (words.value?.sizes ?? []).map((s) => ({ value: s.metric, name: `${s.metric}/${s.american}` })),
);
const points = computed(() => (words.value?.points ?? []).map((p) => ({ value: p.value, name: p.name })));
const finishes = computed(
  () => (words.value?.needle_finishes ?? []) as { value: Schemas["NeedleFinish"]; name: string }[],
);
const form = reactive({
  metric: 100,
  point: "topstitch" as Schemas["Point"],
  finish: "steel" as Schemas["NeedleFinish"],
  system: null as string | null,
  bought: "10",
  price: "",
});
const draft = useDraft("packet", form);
/** The packet's line, as printed: what it holds fills the form, the rest is asked there. */
const line = ref("");
const heard = ref<Schemas["PacketHeard"]>();
const read = useSend(
  async () => answer(client.GET("/api/needles/label", { params: { query: { line: line.value } } })),
  {
    then: (found) => {
      heard.value = found;
      const { metric, point, finish, system, bought } = found.read;
      Object.assign(form, {
        finish,
        ...(metric && { metric }),
        ...(point && { point }),
        ...(system && { system }),
        ...(bought && { bought: String(bought) }),
      });
    },
  },
);
const ASKS: Record<string, string> = { size: "the size", point: "the point", system: "the system" };
const notTaken = computed(() => (heard.value?.takers ?? []).filter((t) => t.why_not));
const mark = useStriking(
  (id, anyway) =>
    answer(client.POST("/api/needles/{packet_id}/strike", { params: { path: { packet_id: id }, query: { anyway } } })),
  (id) => answer(client.POST("/api/needles/{packet_id}/restore", { params: { path: { packet_id: id } } })),
);
const add = useSend(
  async () =>
    answer(
      client.POST("/api/needles", {
        body: {
          metric: form.metric,
          american: words.value?.sizes.find((s) => s.metric === form.metric)?.american ?? 0,
          point: form.point,
          finish: form.finish,
          system: form.system ?? takes.value,
          bought: numberIn("bought", form.bought),
          price: optionalNumber("price", form.price),
        },
      }),
    ),
  {
    then: () => draft.drop(),
    says: () => "The packet is in the drawer.",
    undo: (id) => () => void mark.out(id, "The packet is deleted."),
  },
);
const { error } = add;
const own = computed(() => data.value?.own ?? []);
const cheapest = computed(() =>
  Math.min(...(data.value?.packets ?? []).map((p) => (p.fits && p.cost?.per_hour) || Infinity)),
);
</script>

<template>
  <div class="station">
    <div>
      <section class="panel">
        <p v-if="data?.packets.length === 0" class="verdict">
          No needles noted yet. Add a packet, and the stock goes down as you fit them.
        </p>
        <table v-else>
          <thead>
            <tr>
              <th scope="col">Needle</th>
              <th scope="col" class="num">Left</th>
              <th scope="col" class="num">One hour costs</th>
              <th scope="col"><span class="sr">Delete</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in data?.packets" :key="p.id" :class="{ other: !p.fits }">
              <td>
                <strong>{{ p.spec.metric }}/{{ p.spec.american }} {{ p.spec.point }}</strong>
                {{ p.spec.finish === "titanium" ? "titanium" : "" }}
                <span class="soft line"
                  >{{ p.spec.system
                  }}<template v-if="p.cost"> · {{ p.cost.why }} ({{ STANDING[p.cost.standing] }})</template></span
                >
                <span v-if="p.why_not" class="line not">✕ not for this machine, which takes {{ takes }}</span>
              </td>
              <td class="num left" data-label="Left ">{{ p.left }}</td>
              <td class="num left" data-label="An hour costs ">
                <template v-if="p.cost"
                  >{{ fixed(p.cost.per_hour, 2)
                  }}<span v-if="p.fits && p.cost.per_hour === cheapest" class="soft line">lowest</span></template
                >
              </td>
              <td>
                <Button
                  label="Delete"
                  text
                  severity="secondary"
                  :aria-label="`Delete ${p.spec.metric}/${p.spec.american} ${p.spec.point}`"
                  @click="mark.out(p.id, 'The packet is deleted.')" />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="own.length" class="panel stack">
        <h2>What your own needles lasted</h2>
        <p v-for="kind in own" :key="kind.words">
          <strong>{{ kind.words }}</strong>: {{ kind.says }}
        </p>
      </section>
    </div>
    <div>
      <section class="panel">
        <h2>Add a packet</h2>
        <form @submit.prevent="add.go()">
          <DraftNote :shown="draft.state.restored" @drop="draft.drop()" />
          <FieldBox label="What the packet says" :error="read.error('line')" class="wide">
            <span class="row line-typed">
              <InputText v-model="line" placeholder="130/705 H-M 80/12" @keydown.enter.prevent="line && read.go()" />
              <Button type="button" label="Read it" outlined :disabled="!line" @click="read.go()" />
            </span>
          </FieldBox>
          <p v-if="heard?.read.asks.length" class="wide" role="status">
            Not on the line: {{ heard.read.asks.map((a) => ASKS[a]).join(", ") }}. Choose below.
          </p>
          <p v-for="t in notTaken" :key="t.machine" class="wide not">{{ t.why_not }}</p>
          <ChoiceBox v-model="form.metric" label="Size" :options="sizes" />
          <ChoiceBox v-model="form.point" label="Point" :options="points" />
          <ChoiceBox v-model="form.finish" label="Finish" :options="finishes" />
          <FieldBox label="Needle system" :error="error('system')"
            ><InputText :model-value="form.system ?? takes" @update:model-value="form.system = $event ?? ''"
          /></FieldBox>
          <FieldBox label="How many" :error="error('bought')"
            ><InputText v-model="form.bought" inputmode="numeric"
          /></FieldBox>
          <FieldBox label="Price of one" :error="error('price')"
            ><InputText v-model="form.price" inputmode="decimal"
          /></FieldBox>
          <p v-if="add.problem.value?.lost" class="field-error wide">{{ add.problem.value.message }}</p>
          <Button type="submit" data-new class="wide" label="Put it in the drawer" :loading="add.pending.value" />
        </form>
      </section>
      <EyePasses />
    </div>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: var(--type-small);
  color: var(--ink-soft);
  font-weight: 560;
}
.not {
  color: var(--vermilion);
}
td .p-button {
  white-space: nowrap;
}
td:first-child {
  padding-left: 0;
}
td {
  padding: 0.45rem 0.4rem;
  border-top: 1px solid var(--rule);
}
th.num,
.num {
  text-align: right;
}
.left {
  font-size: var(--type-head);
  font-weight: 700;
}
.line {
  display: block;
  font-size: var(--type-small);
  font-weight: 400;
}
.other strong {
  color: var(--ink-soft);
}
form {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.8rem;
  margin-top: 0.6rem;
}
.wide {
  grid-column: 1 / -1;
}
@media (max-width: 500px) {
  table,
  tbody,
  tr,
  td {
    display: block;
  }
  thead {
    display: none;
  }
  tr {
    display: flex;
    flex-wrap: wrap;
    gap: 0 0.8rem;
    align-items: center;
    border-top: 1px solid var(--rule);
    padding: 0.4rem 0;
  }
  td {
    border: 0;
    padding: 0.1rem 0;
  }
  [data-label]::before {
    content: attr(data-label);
    font-size: var(--type-small);
    font-weight: 400;
    color: var(--ink-soft);
  }
  form {
    grid-template-columns: 1fr;
  }
}
</style>
