<script setup lang="ts">
import InTurn from "../../parts/InTurn.vue";
import Button from "primevue/button";
import { computed, ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useKeeping } from "../../api/queries";
import { useSend } from "../../composables/send";
import { counted, day, megabytes, moment, time } from "../../words";
import MachinesPanel from "./MachinesPanel.vue";
import AccessPart from "./AccessPart.vue";
import SecondPlace from "./SecondPlace.vue";
import SchoolsPanel from "./SchoolsPanel.vue";
import UnitsPanel from "./UnitsPanel.vue";

/** The workshop's file: whether there is a copy of today, a copy now, and going back to one. */
type Copy = Schemas["Copy"];
const { data } = useKeeping();
const newest = computed(() => data.value?.copies[0]);
const today = computed(() => newest.value && day(newest.value.at) === day(new Date().toISOString()));

const copy = useSend(async () => answer(client.POST("/api/workshop/copies")), {
  says: (made) => `Copied and checked: ${made.name}.`,
});
const asked = ref<Copy | null>(null);
const inside = ref<Schemas["Contents"] | null>(null);
const look = useSend(
  async (one: Copy) => answer(client.GET("/api/workshop/copies/{name}", { params: { path: { name: one.name } } })),
  { then: (found) => (inside.value = found) },
);
async function consider(one: Copy) {
  asked.value = one;
  inside.value = null;
  await look.go(one);
}
const restore = useSend(
  async (name: string) => answer(client.POST("/api/workshop/copies/{name}/restore", { params: { path: { name } } })),
  {
    says: () => "Put back. What it replaced is still there.",
    undo: (done) => () => void restore.go(done.replaced),
    then: () => (asked.value = null),
  },
);
const when = (one: Copy) => moment(one.at);
const reach = computed(() =>
  inside.value?.first && inside.value.last ? `, from ${day(inside.value.first)} to ${day(inside.value.last)}` : "",
);
</script>

<template>
  <div v-if="data" class="station">
    <div>
      <InTurn><MachinesPanel /></InTurn>
      <InTurn><UnitsPanel /></InTurn>
      <InTurn><SchoolsPanel /></InTurn>
      <section class="panel stack">
        <h2>{{ data.open_to_network ? "On a tablet" : "Only this computer can reach it" }}</h2>
        <template v-if="data.open_to_network">
          <img :src="'/api/workshop/qr.svg'" alt="The address as a QR code" width="180" height="180" />
          <p>
            <template v-for="(a, i) in data.addresses" :key="a"
              ><template v-if="i"> or </template><code>{{ a }}</code></template
            >
          </p>
          <AccessPart />
          <p class="soft">The way there isn't encrypted: use it on a network of your own.</p>
        </template>
        <p v-else class="soft">
          For a tablet on the same network start it with <code>weftonos serve --host 0.0.0.0</code> and then asks for a
          passcode.
        </p>
      </section>
    </div>
    <div>
      <section class="panel stack" aria-live="polite">
        <h2>Backup</h2>
        <p class="verdict" data-answer>
          <strong>
            <template v-if="newest"
              >{{ today ? "Backed up today" : `Backed up ${day(newest.at)}` }}, {{ time(newest.at) }}.</template
            >
            <template v-else>No backup yet.</template>
          </strong>
          {{
            today
              ? "Each day gets a copy by itself, while Weftonos runs."
              : "A copy is made by itself soon after the start, once a day."
          }}
        </p>
        <div class="row">
          <Button label="Copy now" outlined :loading="copy.pending.value" @click="copy.go()" />
          <a v-if="newest" class="take" :href="`/api/workshop/copies/${newest.name}/file`" download
            >Take the newest with you</a
          >
        </div>
        <p v-if="copy.problem.value" class="field-error" role="alert">{{ copy.problem.value.message }}</p>
      </section>
      <InTurn><SecondPlace :place="data.elsewhere ?? null" /></InTurn>
      <section v-if="asked" class="panel stack" aria-live="polite">
        <h2>Go back to {{ when(asked) }}?</h2>
        <p v-if="inside" class="verdict">
          {{ counted(inside.records, "record") }}{{ reach }}, {{ counted(inside.threads, "thread") }},
          {{ counted(inside.machines, "machine") }}.
        </p>
        <p v-if="look.problem.value || restore.problem.value" class="field-error" role="alert">
          {{ (look.problem.value ?? restore.problem.value)?.message }}
        </p>
        <p>What was written since is set aside, not deleted, and can be put back the same way.</p>
        <div class="row">
          <Button
            label="Put this one back"
            :disabled="!inside"
            :loading="restore.pending.value"
            @click="restore.go(asked.name)" />
          <Button label="Leave it as it is" text @click="asked = null" />
        </div>
      </section>
      <section class="panel">
        <h2>Copies</h2>
        <p v-if="!data.copies.length" class="soft">None yet.</p>
        <ul class="listed">
          <li v-for="c in data.copies" :key="c.name">
            <span
              >{{ when(c) }} <span class="soft">{{ megabytes(c.size) }}</span></span
            >
            <Button label="Go back to it" text :aria-label="`Go back to it: ${when(c)}`" @click="consider(c)" />
          </li>
        </ul>
        <template v-if="data.replaced.length">
          <h2>Set aside when a copy was put back</h2>
          <ul class="listed">
            <li v-for="c in data.replaced" :key="c.name">
              <span
                >{{ when(c) }} <span class="soft">{{ megabytes(c.size) }}</span></span
              >
              <Button
                label="Put it back"
                text
                :aria-label="`Put it back: what was there ${when(c)}`"
                @click="consider(c)" />
            </li>
          </ul>
        </template>
      </section>
      <section class="panel stack">
        <h2>Where it is</h2>
        <dl>
          <dt>The file</dt>
          <dd>
            <code>{{ data.file }}</code> ({{ megabytes(data.size) }})
          </dd>
          <dt>Its copies</dt>
          <dd>
            <code>{{ data.folder }}</code>, seven days, four weeks and twelve months of them. Another folder:
            <code>weftonos serve --copy-dir FOLDER</code>
          </dd>
          <dt>Free space</dt>
          <dd>{{ megabytes(data.free) }}</dd>
          <dt>To stop Weftonos</dt>
          <dd>Press Ctrl+C in the window in which it was started, or close that window.</dd>
          <dt>What went wrong</dt>
          <dd>
            <code>{{ data.log_file }}</code>: places in the program, nothing of yours
          </dd>
          <dt>What it is made with</dt>
          <dd>
            <a class="take" href="/third-party.txt" target="_blank">Licenses of what ships with it</a>
            and <a class="take" href="/api/workshop/licenses.txt" target="_blank">of its libraries</a>. Weftonos
            {{ data.version }}
          </dd>
        </dl>
      </section>
    </div>
  </div>
</template>

<style scoped>
li button {
  white-space: nowrap;
}
h2 + ul {
  margin-top: 0.4rem;
}
ul + h2 {
  margin-top: 1.4rem;
}
dl {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.5rem 1.2rem;
  margin: 0;
}
dt {
  font-weight: 620;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
code {
  font-size: var(--type-small);
}
.take {
  color: inherit;
  min-height: 48px;
  display: inline-grid;
  place-items: center;
}
img {
  background: #fff;
  padding: 0.5rem;
  border-radius: 4px;
}
@media (max-width: 560px) {
  dl {
    grid-template-columns: 1fr;
    gap: 0.1rem;
  }
  dd {
    margin-bottom: 0.6rem;
  }
}
</style>
