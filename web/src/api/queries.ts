import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, type Ref } from "vue";
import { answer, client, type Problem } from "./client";

const path = (machine: Ref<number>) => ({ params: { path: { machine_id: machine.value } } });

export const useWords = () =>
  useQuery({ queryKey: ["words"], queryFn: () => answer(client.GET("/api/words")), staleTime: Infinity });

export const useMachines = () =>
  useQuery({ queryKey: ["machines"], queryFn: () => answer(client.GET("/api/machines")) });

export const useThreads = (struck: Ref<boolean>) =>
  useQuery({
    queryKey: ["threads", struck],
    queryFn: () => answer(client.GET("/api/threads", { params: { query: { struck: struck.value } } })),
    placeholderData: keepPreviousData,
  });

export const useLine = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["line", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/line", path(machine))),
    enabled: computed(() => machine.value > 0),
    placeholderData: keepPreviousData,
  });

export const useNeedle = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["needle", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/needle", path(machine))),
  });

export const useBobbin = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["bobbin", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/readings", path(machine))),
  });

export const useBalance = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["balance", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/balance", path(machine))),
  });

export interface LogFilter {
  machine?: number;
  kind?: string;
  limit: number;
}

export const useLog = (filter: Ref<LogFilter>) =>
  useQuery({
    queryKey: ["log", filter],
    queryFn: () => answer(client.GET("/api/log", { params: { query: filter.value } })),
    placeholderData: keepPreviousData,
  });

/** A change on the server: afterwards everything shown is asked for anew. */
export function useChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  const queries = useQueryClient();
  return useMutation<Output, Problem, Input>({
    mutationFn: change,
    onSuccess: () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "words" }),
  });
}
