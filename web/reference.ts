import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Plugin } from "vite";

const FOLDER = join(import.meta.dirname, "node_modules", "swagger-ui-dist");
export const REFERENCE_FOLDER = FOLDER;

/** The page of what programs can ask, with its script and style in files of their own: no network, no script inline. */
const PAGE = `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <meta name="description" content="What programs can ask of a Weftonos workshop, with examples." />
    <title>Weftonos: what programs can ask</title>
    <link rel="icon" href="/favicon.svg" />
    <link rel="stylesheet" href="/reference/swagger-ui.css" />
  </head>
  <body>
    <p style="font: 1.1rem/1.5 system-ui, sans-serif; margin: 1rem auto; max-width: 1420px; padding: 0 20px">
      <a href="/">Back to the workshop</a>. “Execute” asks this workshop itself: what writes, writes here.
    </p>
    <main id="reference"></main>
    <script src="/reference/swagger-ui-bundle.js"></script>
    <script src="/reference/start.js"></script>
  </body>
</html>
`;
const START = `SwaggerUIBundle({
  url: "/api/openapi.json",
  dom_id: "#reference",
  deepLinking: true,
  docExpansion: "list",
  defaultModelsExpandDepth: -1,
  validatorUrl: null,
});
`;

export function reference(): Plugin {
  return {
    name: "reference",
    apply: "build",
    generateBundle() {
      const emit = (name: string, source: string | Uint8Array) =>
        this.emitFile({ type: "asset", fileName: `reference/${name}`, source });
      emit("index.html", PAGE);
      emit("start.js", START);
      for (const name of ["swagger-ui-bundle.js", "swagger-ui.css"]) emit(name, readFileSync(join(FOLDER, name)));
    },
  };
}
