import { join } from "node:path";
import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vitest/config";
import { reference, REFERENCE_FOLDER } from "./reference";
import { controls, THEME_FOLDER } from "./theme";
import { thirdParty } from "./third-party";

const server = "http://127.0.0.1:8741";

export default defineConfig({
  resolve: { alias: { "primevue/ripple": join(import.meta.dirname, "no-ripple.ts") } },
  plugins: [vue(), controls(), reference(), thirdParty(REFERENCE_FOLDER, THEME_FOLDER)],
  // By the manifest the server names each station's own modules in the page.
  build: { outDir: "../src/weftonos/static", emptyOutDir: true, manifest: "manifest.json", cssCodeSplit: false },
  // A zone far from Greenwich, so that a moment shown in the wrong one is another day.
  test: { include: ["tests/**/*.test.ts"], setupFiles: ["tests/storage.ts"], env: { TZ: "Pacific/Auckland" } },
  server: {
    host: "127.0.0.1",
    // The server refuses foreign origins, so the proxy speaks as the server's own page.
    proxy: { "/api": { target: server, changeOrigin: true, ws: true, headers: { origin: server } } },
  },
});
