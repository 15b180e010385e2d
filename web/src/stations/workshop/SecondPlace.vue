<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useSend } from "../../composables/send";
import FieldBox from "../../parts/FieldBox.vue";
import { moment } from "../../words";

/** A second place for copies: what lies on the workshop's own disk goes when the disk goes. */
const props = defineProps<{ place: Schemas["Elsewhere"] | null }>();
const folder = ref("");
watch(
  () => props.place?.folder,
  (named) => (folder.value = named ?? ""),
  { immediate: true },
);
const name = useSend((folder: string) => answer(client.PUT("/api/workshop/second-place", { body: { folder } })), {
  says: () => "Saved. The next copy goes there too.",
});
const says = computed(() => {
  if (!props.place) return "No copy off this disk yet.";
  const at = props.place.at;
  return at ? `Last copy off this disk: ${moment(at)}.` : "Named, and no copy there yet.";
});
</script>

<template>
  <section class="panel stack" aria-labelledby="second-title">
    <h2 id="second-title">A second place for copies</h2>
    <p class="verdict">{{ says }}</p>
    <p v-if="place?.trouble" class="field-error" role="alert">{{ place.trouble }}</p>
    <p class="soft">
      Copies beside the workshop are lost with the disk. Name a folder on a stick, on another disk, or one that syncs.
      Each copy then goes there too.
    </p>
    <form class="row" @submit.prevent="name.go(folder)">
      <FieldBox label="Folder, in full" :error="name.error('folder')"><InputText v-model="folder" /></FieldBox>
      <Button type="submit" label="Save the folder" outlined :loading="name.pending.value" />
    </form>
    <p v-if="place?.same_disk" class="soft">
      That folder is on the workshop's own disk. It helps only if it syncs to another one.
    </p>
  </section>
</template>
