import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Plugin } from "vite";

/** Of what others wrote and the pages ship: name, version, license, and its text, in one file beside them. */
export function thirdParty(...besides: string[]): Plugin {
  return {
    name: "third-party",
    generateBundle() {
      const folders = new Set<string>(besides);
      for (const id of this.getModuleIds()) {
        const file = id.replace(/^\0/, "").replace(/\?.*$/, "");
        if (file.includes("node_modules")) folders.add(packageFolder(file));
      }
      const parts = [...folders].sort().map(described);
      const source = [
        "What others wrote and the pages of Weftonos ship, with the licenses under which they do.",
        "The libraries of the program itself are installed with their own licenses.",
        ...parts,
      ].join("\n\n");
      this.emitFile({ type: "asset", fileName: "third-party.txt", source: `${source}\n` });
    },
  };
}

function packageFolder(file: string): string {
  let folder = dirname(file);
  // A folder inside a package may hold a package.json of its own, which has no version.
  while (!existsSync(join(folder, "package.json")) || !manifest(folder).version) folder = dirname(folder);
  return folder;
}

interface Manifest {
  name?: string;
  version?: string;
  license?: string;
}
const manifest = (folder: string) => JSON.parse(readFileSync(join(folder, "package.json"), "utf8")) as Manifest;

function described(folder: string): string {
  const { name, version, license } = manifest(folder);
  const file = readdirSync(folder).find((each) => /^licen[cs]e/i.test(each));
  const notice = readdirSync(folder).find((each) => /^notice/i.test(each));
  const noted = notice ? `\n\n${readFileSync(join(folder, notice), "utf8").trim()}` : "";
  const text = file ? readFileSync(join(folder, file), "utf8").trim() : `(It ships no text of its own: ${license}.)`;
  return `${"=".repeat(78)}\n${name} ${version}, ${license}\n\n${text}${noted}`;
}
