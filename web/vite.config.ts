import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vite";

const server = "http://127.0.0.1:8741";

export default defineConfig({
  plugins: [vue()],
  build: { outDir: "../src/weftonos/static", emptyOutDir: true },
  server: {
    host: "127.0.0.1",
    // The server refuses foreign origins, so the proxy speaks as the server's own page.
    proxy: { "/api": { target: server, changeOrigin: true, ws: true, headers: { origin: server } } },
  },
});
