import { writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { access } from "./access";
import { capture } from "./capture";
import { edit } from "./edit";
import { events } from "./events";
import { figures } from "./figures";
import { film } from "./film";
import { growing } from "./growing";
import { hour } from "./hour";
import { Before, machineTimes, type Measured } from "./kept";
import { library } from "./library";
import { publish } from "./publish";
import { republish } from "./republish";
import { classroom } from "./class";
import { retain } from "./retain";
import { figureOf, median, openRig, type Figure, type Rig } from "./rig";
import { watchSteal } from "./steal";
import { talk } from "./talk";
import { ingest, serve } from "./traffic";
import { firstFrame, sync, syncLarge, watchLong } from "./watch";

const BENCHES: Record<string, (rig: Rig) => Promise<Figure[]>> = {
  publish,
  capture,
  sync,
  "sync-1080": syncLarge,
  "first-frame": firstFrame,
  watch: watchLong,
  ingest,
  hour,
  serve,
  figures,
  library,
  access,
  retain,
  film,
  events,
  class: classroom,
  growing,
  talk,
  republish,
  edit,
};

const { values } = parseArgs({
  options: {
    /** names with commas between; all of them, where none are given */
    only: { type: "string" },
    all: { type: "boolean" },
    json: { type: "string" },
    /** these are the figures that later ones stand beside */
    keep: { type: "boolean" },
  },
});
const wanted = values.all || !values.only ? Object.keys(BENCHES) : values.only.split(",");
const unknown = wanted.find((name) => !BENCHES[name]);
if (unknown !== undefined) {
  console.error(`There is no bench called ${unknown}; there are: ${Object.keys(BENCHES).join(", ")}.`);
  process.exit(2);
}
const before = new Before();
const all: Measured[] = [];
for (const [name, run] of Object.entries(BENCHES)) {
  if (!wanted.includes(name)) continue;
  const began = performance.now();
  const times = machineTimes();
  const rig = await openRig();
  try {
    const stolen = watchSteal();
    const figures = await run(rig);
    figures.push(figureOf(name)("processor time that the machine gave to others", 100 * stolen(), "%"));
    const machine = median([...times, ...machineTimes()]);
    figures.push(figureOf(name)("the machine: SHA-256 of 32 MB", machine, "ms"));
    figures.push(figureOf(name)("the bench itself", (performance.now() - began) / 1000, "s"));
    for (const f of figures.map((figure) => ({ ...figure, machine }))) {
      all.push(f);
      const goal = f.goal && `goal ${f.goal}: ${f.met ? "met" : "not met"}  `;
      console.log(
        `${f.bench.padEnd(12)} ${f.figure.padEnd(52)} ${f.value.toFixed(f.value < 10 ? 2 : 0).padStart(8)} ` +
          `${f.unit.padEnd(5)} ${goal}${before.beside(f)}`,
      );
    }
  } catch (error) {
    console.error(`${name} failed:`, error);
    process.exitCode = 1;
  } finally {
    await rig.stop();
  }
}
if (values.keep) before.keep(all);
if (values.json) writeFileSync(values.json, JSON.stringify(all, null, 2) + "\n");
process.exit();
