<script setup lang="ts">
import Button from "primevue/button";
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useSend } from "../../composables/send";
import { say } from "../../notices";
import { counted, listed, moment } from "../../words";
import BringIn from "./BringIn.vue";
import ImportedArchive from "./ImportedArchive.vue";
import ImportedTable from "./ImportedTable.vue";
import TakeAway from "./TakeAway.vue";

/** In and out: everything as a file, and what people already have. */
type Brought = Schemas["BroughtIn"];
const given = ref<Schemas["SeenFile"] | null>(null);
const queries = useQueryClient();
const { data: imports } = useQuery({
  queryKey: ["exchange", "imports"],
  queryFn: () => answer(client.GET("/api/exchange/imports")),
});
const undo = useSend(
  ({ id, anyway }: { id: number; anyway: boolean }) =>
    answer(
      client.POST("/api/exchange/imports/{import_id}/undo", {
        params: { path: { import_id: id }, query: { anyway } },
      }),
    ),
  { says: () => "Taken back whole.", then: () => (asked.value = null) },
);
/** An import of which something was corrected since: that would go with it, so it is asked. */
const asked = ref<{ one: Brought; since: Schemas["ChangedSince"] } | null>(null);
const since = useSend((one: Brought) =>
  answer(client.GET("/api/exchange/imports/{import_id}/changed", { params: { path: { import_id: one.id } } })),
);
/** The same file at another place: another sheet, another row of headings. */
const look = useSend(
  (where: Schemas["WhereItStands"]) =>
    answer(
      client.POST("/api/exchange/files/{token}/look", {
        params: { path: { token: given.value!.token } },
        body: where,
      }),
    ),
  { then: (seen) => (given.value = seen) },
);
async function takeBack(one: Brought) {
  const changed = await since.go(one);
  if (!changed) return;
  if (changed.records.length || total(changed.things)) asked.value = { one, since: changed };
  else await undo.go({ id: one.id, anyway: false });
}
const words = (counts: Record<string, number> | undefined) =>
  Object.entries(counts ?? {})
    .map(([thing, n]) =>
      thing === "packet" ? counted(n, "packet of needles", "packets of needles") : counted(n, thing),
    )
    .join(", ");
const total = (counts: Record<string, number> | undefined) =>
  Object.values(counts ?? {}).reduce((all, one) => all + one, 0);
function said(one: Brought) {
  const parts = [words(one.new) || "nothing new"];
  if (total(one.same)) parts.push(`${total(one.same)} here already`);
  if (total(one.differing)) parts.push(`${total(one.differing)} read differently here`);
  return listed(parts);
}
async function brought(what: Brought) {
  given.value = null;
  await queries.invalidateQueries();
  say(`Brought in: ${words(what.new) || "nothing new"}.`, total(what.new) ? () => void takeBack(what) : undefined);
}
</script>

<template>
  <ImportedTable
    v-if="given?.table"
    :key="`${given.token} ${given.table.sheet} ${given.table.head}`"
    :file="given"
    :table="given.table"
    :elsewhere="look.problem.value?.message"
    @brought="brought"
    @look="look.go"
    @leave="given = null" />
  <div v-else class="station">
    <div>
      <ImportedArchive v-if="given" :file="given" @brought="brought" @leave="given = null" />
      <TakeAway v-else />
    </div>
    <div>
      <BringIn v-model="given" />
      <section v-if="imports?.length" class="panel" aria-labelledby="imports-title">
        <h2 id="imports-title">Brought in lately</h2>
        <p v-if="undo.problem.value" class="field-error" role="alert">{{ undo.problem.value.message }}</p>
        <ul class="listed">
          <li v-for="one in imports" :key="one.id">
            <span
              ><strong>{{ one.name }}</strong> <span class="soft">{{ moment(one.at) }}</span><span class="soft line">{{
                said(one)
              }}</span
              ><span v-for="name in one.named_anew" :key="name" class="soft line">{{ name }}</span></span
            >
            <span v-if="one.undone_at" class="soft">taken back</span>
            <Button
              v-else-if="total(one.new) || total(one.differing)"
              label="Take it back"
              text
              :aria-label="`Take it back: ${one.name}`"
              :loading="undo.pending.value"
              @click="takeBack(one)" />
            <div v-if="asked?.one.id === one.id" class="since" role="alert">
              <p>
                <strong>Corrected since, and would go too:</strong>
                {{ listed([...asked.since.records, words(asked.since.things)].filter(Boolean)) }}.
              </p>
              <Button label="Take it back anyway" outlined @click="undo.go({ id: one.id, anyway: true })" />
              <Button label="Leave it" text @click="asked = null" />
            </div>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>

<style scoped>
.line {
  display: block;
}
.since {
  flex-basis: 100%;
}
</style>
