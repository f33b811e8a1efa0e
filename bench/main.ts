import { writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { access } from "./access";
import { capture } from "./capture";
import { edit } from "./edit";
import { events } from "./events";
import { figures } from "./figures";
import { film } from "./film";
import { hour } from "./hour";
import { library } from "./library";
import { publish } from "./publish";
import { republish } from "./republish";
import { classroom } from "./class";
import { retain } from "./retain";
import { openRig, type Figure, type Rig } from "./rig";
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
  talk,
  republish,
  edit,
};

const { values } = parseArgs({ options: { only: { type: "string" }, json: { type: "string" } } });
if (values.only && !BENCHES[values.only]) {
  console.error(`There is no bench called ${values.only}; there are: ${Object.keys(BENCHES).join(", ")}.`);
  process.exit(2);
}
const all: Figure[] = [];
for (const [name, run] of Object.entries(BENCHES)) {
  if (values.only && values.only !== name) continue;
  const rig = await openRig();
  try {
    const stolen = watchSteal();
    const figures = await run(rig);
    const value = 100 * stolen();
    figures.push({
      bench: name,
      figure: "processor time that the machine gave to others",
      value,
      unit: "%",
      goal: "",
      met: null,
    });
    for (const f of figures) {
      all.push(f);
      console.log(
        `${f.bench.padEnd(12)} ${f.figure.padEnd(52)} ${f.value.toFixed(f.value < 10 ? 2 : 0).padStart(8)} ${f.unit.padEnd(5)} ${f.goal && `goal ${f.goal}: ${f.met ? "met" : "not met"}`}`,
      );
    }
  } catch (error) {
    console.error(`${name} failed:`, error);
    process.exitCode = 1;
  } finally {
    await rig.stop();
  }
}
if (values.json) writeFileSync(values.json, JSON.stringify(all, null, 2) + "\n");
process.exit();
