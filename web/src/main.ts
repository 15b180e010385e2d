import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import { VueQueryPlugin } from "@tanstack/vue-query";
import PrimeVue from "primevue/config";
import { createApp } from "vue";
import App from "./App.vue";
import { router } from "./router";
import "./styles.css";
import "virtual:controls.css";

/** What was asked so lately is not asked again by the next panel that needs it; what is written makes it old at once. */
const FRESH_MS = 5_000;

const app = createApp(App)
  // The style of its controls is made when the pages are built.
  .use(PrimeVue, { theme: "none" })
  // The server is on this machine: being offline is no reason to wait.
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        queries: { networkMode: "always", retry: 1, staleTime: FRESH_MS },
        mutations: { networkMode: "always" },
      },
    },
  })
  .use(router);
// What was read is one stretch of work, what is drawn another: a tap comes in between.
window.setTimeout(() => app.mount("#app"));
