import { createRouter, createWebHistory } from "vue-router";

/** The stations in working order; `digit` is the key that goes there. */
export const STATIONS = [
  { station: "thread", name: "Thread", digit: "1" },
  { station: "needle", name: "Needle", digit: "2" },
  { station: "bobbin", name: "Bobbin", digit: "3" },
  { station: "balance", name: "Balance", digit: "4" },
  { station: "run", name: "Run", digit: "5" },
  { station: "mend", name: "Mend", digit: "6" },
  { station: "log", name: "Log", digit: "7" },
] as const;

export type StationName = (typeof STATIONS)[number]["station"];

const LAST_MACHINE = "weftonos.machine";

export const rememberMachine = (id: number) => localStorage.setItem(LAST_MACHINE, String(id));
export const rememberedMachine = () => Number(localStorage.getItem(LAST_MACHINE) ?? 0);

const VIEWS = {
  start: () => import("./stations/StartView.vue"),
  thread: () => import("./stations/thread/ThreadView.vue"),
  needle: () => import("./stations/needle/NeedleView.vue"),
  bobbin: () => import("./stations/bobbin/BobbinView.vue"),
  balance: () => import("./stations/balance/BalanceView.vue"),
  run: () => import("./stations/run/RunView.vue"),
  mend: () => import("./stations/mend/MendView.vue"),
  log: () => import("./stations/log/LogView.vue"),
  workshop: () => import("./stations/workshop/WorkshopView.vue"),
  practice: () => import("./stations/practice/PracticeView.vue"),
};
const { start, ...ofMachine } = VIEWS;

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "start", component: start },
    ...Object.entries(ofMachine).map(([name, component]) => ({ path: `/:machine(\\d+)/${name}`, name, component })),
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});

/** So long after the first page the other stations are fetched. */
const QUIET_MS = 4000;

type Built = Record<string, { file: string }>;
const quietly = (path: string) => fetch(path, { priority: "low" });

/**
 * Fetches every station's code ahead, one file after the other, so that links work while the server is away.
 *
 * It is only fetched, which the browser keeps for a year: reading it all would hold up the page that is shown.
 */
export function fetchAhead() {
  window.setTimeout(async () => {
    try {
      const built: Built = await (await quietly("/manifest.json")).json();
      for (const { file } of Object.values(built)) await (await quietly(`/${file}`)).arrayBuffer();
    } catch {
      // A station that cannot be fetched now is asked for again when it is opened.
    }
  }, QUIET_MS);
}
