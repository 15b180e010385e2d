import {
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/vue-query";
import { computed, type Ref } from "vue";
import { answer, client, type Problem, type Schemas } from "./client";
import type { paths } from "./schema";

const path = (machine: Ref<number>) => ({ params: { path: { machine_id: machine.value } } });

export const useWords = () =>
  useQuery({ queryKey: ["words"], queryFn: () => answer(client.GET("/api/words")), staleTime: Infinity });

/** One of the machines; `undefined` until they are known. */
export function useMachineItem(id: Ref<number | undefined>) {
  const { data: machines } = useMachines();
  return computed(() => machines.value?.find((m) => m.id === id.value));
}

/** Walks, help and words: with a machine only what can be there on it, until it is described otherwise. */
export function useProcedures(machine?: Ref<number>) {
  const id = computed(() => machine?.value || undefined);
  const item = useMachineItem(id);
  return useQuery({
    queryKey: computed(() => ["words", "procedures", id.value, item.value?.version]),
    queryFn: () => answer(client.GET("/api/words/procedures", { params: { query: { machine: id.value } } })),
    enabled: computed(() => !id.value || !!item.value),
    staleTime: Infinity,
  });
}

/** When each procedure was last walked on a machine. */
export const useWalksDone = (machine: Ref<number>) =>
  useQuery({
    queryKey: computed(() => ["walks", machine.value]),
    queryFn: () =>
      answer(client.GET("/api/machines/{machine_id}/walks", { params: { path: { machine_id: machine.value } } })),
  });

export const useMachines = () =>
  useQuery({ queryKey: ["machines"], queryFn: () => answer(client.GET("/api/machines")) });

export type DrawerQuery = NonNullable<paths["/api/threads"]["get"]["parameters"]["query"]>;

export const useThreads = (query: Ref<DrawerQuery>) =>
  useInfiniteQuery({
    queryKey: ["threads", query],
    queryFn: ({ pageParam: after }) =>
      answer(client.GET("/api/threads", { params: { query: { ...query.value, after } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.more ?? undefined,
    placeholderData: keepPreviousData,
  });

/** One thread of the drawer; asked for once a number is given. */
export const useThread = (id: Ref<number>) =>
  useQuery({
    queryKey: ["one thread", id],
    queryFn: () => answer(client.GET("/api/threads/{thread_id}", { params: { path: { thread_id: id.value } } })),
    enabled: computed(() => id.value > 0),
  });

export const useThreadStation = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["thread", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/thread", path(machine))),
  });

export const useNeedleDrawer = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["needles", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/needles", path(machine))),
  });

/** How often thread breaks here, and the first move for each kind of break. */
export const useBreaks = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["breaks", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/breaks", path(machine))),
  });

/** Every plan of a quilt, the newest first. */
export const usePlans = () => useQuery({ queryKey: ["plans"], queryFn: () => answer(client.GET("/api/plans")) });

/** One plan with all it takes; the last one stays in sight while another is asked for. */
export const usePlan = (id: Ref<number>) =>
  useQuery({
    queryKey: ["plan", id],
    queryFn: () => answer(client.GET("/api/plans/{plan_id}", { params: { path: { plan_id: id.value } } })),
    enabled: computed(() => id.value > 0),
  });

/** What each kind of change takes on a machine where a plan doesn't say. */
export const useChangeMinutes = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["plans", "minutes", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/change-minutes", path(machine))),
  });

/** Where the quilt on a machine is in its plan. */
export const usePlanNow = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["plan now", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/plan", path(machine))),
    enabled: computed(() => machine.value > 0),
  });

export const useShopping = () =>
  useQuery({ queryKey: ["shopping"], queryFn: () => answer(client.GET("/api/shopping")) });

export const useLine = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["line", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/line", path(machine))),
    enabled: computed(() => machine.value > 0),
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

export const useRack = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["rack", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/rack", path(machine))),
  });

export const useBalance = (machine: Ref<number>, motion: Ref<Schemas["Motion"]>) =>
  useQuery({
    queryKey: ["balance", machine, motion],
    queryFn: () =>
      answer(
        client.GET("/api/machines/{machine_id}/balance", {
          params: { path: { machine_id: machine.value }, query: { motion: motion.value } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const useRun = (machine: Ref<number>, nextLine: Ref<number | undefined>) =>
  useQuery({
    queryKey: ["run", machine, nextLine],
    queryFn: () =>
      answer(
        client.GET("/api/machines/{machine_id}/run", {
          params: { path: { machine_id: machine.value }, query: { next_line_m: nextLine.value } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useMend = (machine: Ref<number>, own: Ref<boolean>, thorough: Ref<boolean>) =>
  useQuery({
    queryKey: ["mend", machine, own, thorough],
    queryFn: () =>
      answer(
        client.GET("/api/machines/{machine_id}/mend", {
          params: { path: { machine_id: machine.value }, query: { own: own.value, thorough: thorough.value } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const usePreflight = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["preflight", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/preflight", path(machine))),
  });

export const useUpkeep = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["upkeep", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/upkeep", path(machine))),
  });

/** The comparison that is planned on a machine: what is next, or that its answer is in; `null` where there is none. */
export const usePlanned = (machine: Ref<number>) =>
  useQuery({
    queryKey: computed(() => ["evidence", "planned", machine.value]),
    queryFn: async () => (await client.GET("/api/machines/{machine_id}/evidence/planned", path(machine))).data ?? null,
  });

export const useTroubles = (machine: Ref<number>) =>
  useQuery({
    queryKey: ["troubles", machine],
    queryFn: () => answer(client.GET("/api/machines/{machine_id}/troubles", path(machine))),
  });

export type RecipeQuery = NonNullable<paths["/api/recipes"]["get"]["parameters"]["query"]>;

export const useRecipes = (query: Ref<RecipeQuery>) =>
  useInfiniteQuery({
    queryKey: ["recipes", query],
    queryFn: ({ pageParam: before }) =>
      answer(client.GET("/api/recipes", { params: { query: { ...query.value, before } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more ?? undefined,
    placeholderData: keepPreviousData,
  });

export type ClothQuery = NonNullable<paths["/api/cloths"]["get"]["parameters"]["query"]>;
/** Test cloths as they are searched, newest first, page by page. */
export const useCloths = (query: Ref<ClothQuery>) =>
  useInfiniteQuery({
    queryKey: ["cloths", query],
    queryFn: ({ pageParam }) =>
      answer(client.GET("/api/cloths", { params: { query: { ...query.value, before: pageParam ?? undefined } } })),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => page.more,
    placeholderData: keepPreviousData,
  });
export const useCloth = (id: Ref<number | null>) =>
  useQuery({
    queryKey: ["cloth", id],
    queryFn: () => answer(client.GET("/api/cloths/{cloth_id}", { params: { path: { cloth_id: id.value ?? 0 } } })),
    enabled: () => id.value !== null,
  });

export type LogFilter = NonNullable<paths["/api/log"]["get"]["parameters"]["query"]>;

export const useLog = (filter: Ref<LogFilter>) =>
  useInfiniteQuery({
    queryKey: ["log", filter],
    queryFn: ({ pageParam: before }) =>
      answer(client.GET("/api/log", { params: { query: { ...filter.value, before } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => last.more ?? undefined,
    placeholderData: keepPreviousData,
  });

export const useQuilts = () => useQuery({ queryKey: ["quilts"], queryFn: () => answer(client.GET("/api/quilts")) });

export const useQuilt = (name: Ref<string>) =>
  useQuery({
    queryKey: ["quilt", name],
    queryFn: () => answer(client.GET("/api/quilt", { params: { query: { name: name.value } } })),
    enabled: computed(() => name.value !== ""),
  });

/** Where the workshop is kept, and its copies. */
export const useKeeping = () => useQuery({ queryKey: ["keeping"], queryFn: () => answer(client.GET("/api/workshop")) });

/** What wants seeing to, asked for now and then. */
export const useWarnings = () =>
  useQuery({
    queryKey: ["warnings"],
    queryFn: () => answer(client.GET("/api/workshop/warnings")),
    refetchInterval: 5 * 60_000,
  });

/** Documents that can't be read, as they were written. */
export const useUnreadable = () =>
  useQuery({ queryKey: ["unreadable"], queryFn: () => answer(client.GET("/api/log/unreadable")) });

/** A change on the server: afterwards everything shown is asked for anew. */
export function useChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  const queries = useQueryClient();
  return useMutation<Output, Problem, Input>({
    mutationFn: change,
    onSuccess: () => askAnew(queries),
    // What was refused may be so because of what another screen did: show how it stands, and the sentence before that.
    onError: (problem) => {
      if (!problem.lost) void askAnew(queries);
    },
  });
}

/** Asks for everything shown anew. */
export async function askAnew(queries: QueryClient) {
  const slow = (q: { queryKey: readonly unknown[] }) => q.queryKey[0] === "evidence";
  const stale = { predicate: (q: { queryKey: readonly unknown[] }) => q.queryKey[0] !== "words" && !slow(q) };
  // What the records say takes its time: nothing that was just written down waits for it.
  void queries.invalidateQueries({ predicate: slow });
  // A first answer still on its way was asked for before the change; it would not be asked for again.
  await queries.cancelQueries(stale);
  await queries.invalidateQueries(stale);
}

/** Strikes a log record out, for Undo. */
export const useStrike = () =>
  useChange((id: number) =>
    answer(client.POST("/api/log/{record_id}/strike", { params: { path: { record_id: id } } })),
  );
