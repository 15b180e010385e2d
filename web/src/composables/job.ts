import { onScopeDispose, ref } from "vue";
import { answer, client, Problem, type Schemas } from "../api/client";

type Job = Schemas["JobState"];
const ASK_EVERY_MS = 250;

/** Long work on the server: how far it is, what came of it, and a way to break it off. */
export function useJob(then: (done: Job) => void) {
  const job = ref<Job | null>(null);
  const problem = ref("");
  let timer = 0;
  const path = (id: string) => ({ params: { path: { job_id: id } } });

  function hear(state: Job) {
    job.value = state;
    if (state.state === "running") timer = window.setTimeout(ask, ASK_EVERY_MS);
    else if (state.state === "done") then(state);
    else problem.value = state.state === "refused" ? state.problem : "Stopped. Nothing was changed.";
  }
  async function ask() {
    if (!job.value) return;
    await trying(() => answer(client.GET("/api/exchange/jobs/{job_id}", path(job.value?.id ?? ""))));
  }
  async function trying(asked: () => Promise<Job>) {
    try {
      hear(await asked());
    } catch (refused) {
      problem.value = (refused as Problem).message;
      job.value = null;
    }
  }
  async function start(asked: () => Promise<Job>) {
    problem.value = "";
    await trying(asked);
  }
  async function breakOff() {
    window.clearTimeout(timer);
    if (job.value) await trying(() => answer(client.DELETE("/api/exchange/jobs/{job_id}", path(job.value?.id ?? ""))));
  }
  onScopeDispose(() => window.clearTimeout(timer));
  return { job, problem, start, breakOff };
}
