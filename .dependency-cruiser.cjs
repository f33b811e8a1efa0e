/** The rooms, and the rooms below each that it may import from. Arrows only point downward. */
const below = {
  core: [],
  capture: ["core"],
  server: ["core"],
  demo: ["server", "core"],
  app: ["server", "capture", "core"],
};

const TEST = "[.]test[.]tsx?$|^testing/|^e2e/|^bench/";

/** Libraries that compute and nothing else. */
const PURE =
  "^node_modules/(?:linkify-it|saxes|@jitsi/rnnoise-wasm|dayjs|culori|perfect-freehand|nodemailer/dist/esm/addressparser)/";

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    ...Object.entries(below).map(([room, rooms]) => ({
      name: `${room}-points-downward`,
      comment: `${room}/ may import only from ${[room, ...rooms].join(", ")}.`,
      severity: "error",
      from: { path: `^${room}/` },
      to: { path: `^(${Object.keys(below).join("|")})/`, pathNot: `^(${[room, ...rooms].join("|")})/` },
    })),
    {
      name: "core-is-pure",
      severity: "error",
      from: { path: "^core/", pathNot: TEST },
      to: { dependencyTypes: ["core", "npm", "npm-dev"], pathNot: PURE },
    },
    {
      name: "no-test-code-ships",
      severity: "error",
      from: { path: `^(${Object.keys(below).join("|")})/`, pathNot: TEST },
      to: { path: "^(testing|e2e|bench)/" },
    },
    { name: "no-cycles", severity: "error", from: {}, to: { circular: true, dependencyTypesNot: ["type-only"] } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ["exports"], conditionNames: ["import", "node", "default", "types"] },
  },
};
