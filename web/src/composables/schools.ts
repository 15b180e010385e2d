import { useQuery } from "@tanstack/vue-query";
import { computed, type Ref } from "vue";
import { answer, client, type Schemas } from "../api/client";
import { useMachine } from "./machine";
import { useMachineChange } from "./send";

/** What practitioners disagree on, and the sides that are taken on a machine. */
export function useSchools(machine: Ref<number>) {
  const item = useMachine(machine);
  const spec = computed(() => item.value?.spec);
  const { data: questions } = useQuery({
    queryKey: ["words", "schools"],
    queryFn: () => answer(client.GET("/api/words/schools")),
    staleTime: Infinity,
  });
  const change = useMachineChange(machine, { says: () => "Taken." });
  function taken(q: Schemas["Question"]): string {
    const own = q.field ? (spec.value as Record<string, unknown> | undefined)?.[q.field] : spec.value?.choices?.[q.id];
    return (own as string | null | undefined) ?? q.default[spec.value?.kind ?? "home"] ?? "";
  }
  const take = (q: Schemas["Question"], side: string) =>
    void change.go(q.field ? { [q.field]: side } : { choices: { ...spec.value?.choices, [q.id]: side } });
  return { spec, questions, taken, take, problem: change.problem };
}
