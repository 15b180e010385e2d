import type { Ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange } from "../../api/queries";
import { useNote } from "../../composables/send";

const path = (incident: Ref<number>) => ({ params: { path: { incident_id: incident.value } } });

/** Takes the last step of a trouble back. */
export const useBack = (incident: Ref<number>) =>
  useChange(() => answer(client.POST("/api/incidents/{incident_id}/back", path(incident))));

/** Ends a cure or a trouble, and says so with its undo. */
export function useEnd(incident: Ref<number>) {
  return useNote(
    (body: Schemas["Ended"]) =>
      answer(client.POST("/api/incidents/{incident_id}/outcome", { ...path(incident), body })),
    { says: (entry) => `${entry.text}.` },
  );
}
