import type { Ref } from "vue";
import { answer, client, type Schemas } from "../../api/client";
import { useChange, useStrike } from "../../api/queries";
import { say } from "../../notices";

const path = (incident: Ref<number>) => ({ params: { path: { incident_id: incident.value } } });

/** Takes the last step of a trouble back. */
export const useBack = (incident: Ref<number>) =>
  useChange(() => answer(client.POST("/api/incidents/{incident_id}/back", path(incident))));

/** Ends a cure or a trouble, and says so with its undo. */
export function useEnd(incident: Ref<number>) {
  const undo = useStrike();
  const end = useChange((body: Schemas["Ended"]) =>
    answer(client.POST("/api/incidents/{incident_id}/outcome", { ...path(incident), body })),
  );
  async function close(body: Schemas["Ended"]) {
    const entry = await end.mutateAsync(body).catch(() => null);
    if (entry) say(`${entry.text}.`, () => undo.mutate(entry.id));
  }
  return { end, close };
}
