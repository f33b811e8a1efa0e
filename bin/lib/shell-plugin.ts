import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { transformWithEsbuild, type Plugin, type Rollup } from "vite";

const SOURCE = "app/shell/shell.worker.ts";
/** What the recorder's page is made of; whatever these lead to comes along. */
const ENTRIES = [/\/app\/entry\.client\./, /\/app\/root\.tsx/, /\/app\/routes\/frame\.tsx/, /\/app\/routes\/here\.tsx/];
/** Files that no script names. */
const PUBLIC = ["/reference.m4a", "/icons/ready.svg"];
const STATES = ["counting", "paused", "recording", "saving"].map((state) => `/icons/${state}.svg`);

/** Writes the service worker, with the names of the files that it is to keep. */
export function shellPlugin(): Plugin {
  return {
    name: "shell",
    applyToEnvironment: (environment) => environment.name === "client",
    async generateBundle(_, bundle) {
      const files = [...filesOf(bundle), ...PUBLIC, ...STATES].sort();
      const name = createHash("sha256").update(files.join("\n")).digest("hex").slice(0, 12);
      const { code } = await transformWithEsbuild(await readFile(SOURCE, "utf8"), SOURCE, {
        target: "es2022",
        minify: true,
        define: { SHELL_FILES: JSON.stringify(files), SHELL_NAME: JSON.stringify(name) },
      });
      this.emitFile({ type: "asset", fileName: "shell.js", source: code });
    },
  };
}

/** Chunks that are reached from the entries, their styles, and all that is no chunk: workers, worklets, fonts. */
function filesOf(bundle: Rollup.OutputBundle): Set<string> {
  const files = new Set<string>();
  const reach = (fileName: string) => {
    const chunk = bundle[fileName];
    if (!chunk || files.has(`/${fileName}`)) return;
    files.add(`/${fileName}`);
    if (chunk.type !== "chunk") return;
    for (const next of [...chunk.imports, ...chunk.dynamicImports]) reach(next);
  };
  for (const output of Object.values(bundle)) {
    if (output.type === "asset") {
      // Large, and wanted by few.
      if (/^(?:vision|speech)\//.test(output.fileName)) continue;
      // Of the fonts those of western letters: others come when they are needed.
      if (!/\.woff2?$/.test(output.fileName) || /latin-\d+/.test(output.fileName)) files.add(`/${output.fileName}`);
    } else if (ENTRIES.some((entry) => entry.test(output.facadeModuleId ?? ""))) reach(output.fileName);
  }
  return files;
}
