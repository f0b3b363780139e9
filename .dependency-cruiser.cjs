/** Folders of the core, each above those that it may use. */
const LAYERS = [
  "measure",
  "water",
  "products",
  "ranges",
  "testing",
  "uncertainty",
  "reading",
  "doubts",
  "judging",
  "schedule",
  "basin",
  "work",
  "drift",
  "learning",
  "dosing",
  "hold",
  "season",
  "recipes",
  "week",
  "practice",
  "visit",
  "verbs",
];

/** The walls: browser → route → server module or core → database. */
module.exports = {
  forbidden: [
    ...LAYERS.map((layer, level) => ({
      name: `core-${layer}-looks-down`,
      comment: "arrows between the core's folders run one way",
      severity: "error",
      from: { path: `^core/${layer}/`, pathNot: "\\.(test|fixtures)\\.ts$" },
      to: { path: `^core/(${[...LAYERS.slice(level + 1), "none"].join("|")})/` },
    })),
    {
      name: "core-stands-alone",
      comment: "core imports nothing of ours, no Node and no interface; only pure libraries",
      severity: "error",
      from: { path: "^core/", pathNot: "\\.(test|fixtures)\\.ts$" },
      to: {
        pathNot:
          "^core/|^node_modules/(joi|convert|date-fns|@date-fns/tz|haversine-distance|suncalc|culori)/",
      },
    },
    {
      name: "core-has-one-face",
      comment: "everybody outside imports core through index, schemas or verbs",
      severity: "error",
      from: { pathNot: "^core/" },
      to: { path: "^core/", pathNot: "^core/(index|schemas|verbs/index)\\.ts$|\\.fixtures\\.ts$" },
    },
    {
      name: "fixtures-are-for-tests",
      severity: "error",
      from: { pathNot: "\\.(test|fixtures)\\.ts$" },
      to: { path: "\\.fixtures\\.ts$" },
    },
    {
      name: "server-never-imports-app",
      severity: "error",
      from: { path: "^server/" },
      to: { path: "^app/" },
    },
    {
      name: "one-door",
      comment:
        "rows are reached through app/context alone, by role; web/serve makes the pool, tests make their own",
      severity: "error",
      from: { path: "^app/", pathNot: "^app/(context|web/serve)\\.ts$|\\.test\\.ts$" },
      to: {
        path: "^server/db/(connection|pool|migrate)\\.ts$|^node_modules/(pg|kysely)/",
        dependencyTypesNot: ["type-only"],
      },
    },
    {
      name: "interface-pieces-read-no-database",
      comment: "ui, words and workers know types of the server at most",
      severity: "error",
      from: { path: "^app/(ui|words|workers)/" },
      to: { path: "^server/", dependencyTypesNot: ["type-only"] },
    },
    {
      name: "pages-are-on-top",
      comment: "what pages are made of knows no page; what they load stands in app/pages",
      severity: "error",
      from: { path: "^app/(device|ui|words|workers|pages|work)/" },
      to: { path: "^app/routes/" },
    },
    {
      name: "no-circles",
      comment: "by types neither: what two files share stands in a third",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    {
      name: "resolvable",
      severity: "error",
      from: {},
      to: { couldNotResolve: true, pathNot: "^virtual:|\\+types/|\\?url$" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "node", "default", "types"],
      mainFields: ["module", "main", "types"],
    },
    exclude: { path: "\\.react-router|build/" },
  },
};
