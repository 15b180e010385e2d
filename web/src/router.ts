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

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "start", component: () => import("./stations/StartView.vue") },
    { path: "/:machine(\\d+)/thread", name: "thread", component: () => import("./stations/thread/ThreadView.vue") },
    { path: "/:machine(\\d+)/needle", name: "needle", component: () => import("./stations/needle/NeedleView.vue") },
    { path: "/:machine(\\d+)/bobbin", name: "bobbin", component: () => import("./stations/bobbin/BobbinView.vue") },
    { path: "/:machine(\\d+)/balance", name: "balance", component: () => import("./stations/balance/BalanceView.vue") },
    { path: "/:machine(\\d+)/run", name: "run", component: () => import("./stations/run/RunView.vue") },
    { path: "/:machine(\\d+)/mend", name: "mend", component: () => import("./stations/mend/MendView.vue") },
    { path: "/:machine(\\d+)/log", name: "log", component: () => import("./stations/log/LogView.vue") },
    {
      path: "/:machine(\\d+)/workshop",
      name: "workshop",
      component: () => import("./stations/workshop/WorkshopView.vue"),
    },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});
