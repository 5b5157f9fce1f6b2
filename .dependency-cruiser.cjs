/** Who may import whom. Anything not listed is forbidden; circles of value imports too. */
const layers = [
  ["quantity"],
  ["solver"],
  ["devices"],
  ["harness"],
  ["notation", "circuit"],
  ["instruments", "faults", "limits", "codes", "waveform"],
  ["diagnosis"],
  ["procedures", "repair"],
  ["practice", "job"],
];

/** The floors of diagnosis, from the ground up: each may import from those before it. */
const diagnosisFloors = ["trace", "evidence", "simulate", "hypotheses", "predict", "belief", "effort", "proof", "next-test", "answer"];

/** Tests and what helps them may look wherever they need to. */
const TESTS = "(\\.test\\.ts$|/src/test/)";

const upward = layers.flatMap((folders, level) =>
  folders.map((folder) => ({
    name: `core-${folder}-upward-only`,
    comment: "Inside core imports go to the same level or below.",
    severity: "error",
    from: { path: `^packages/core/src/${folder}/`, pathNot: TESTS },
    to: {
      path: `^packages/core/src/(${
        layers
          .slice(level + 1)
          .flat()
          .join("|") || "nothing"
      })/`,
    },
  })),
);

const floorsUpward = diagnosisFloors.slice(0, -1).map((floor, level) => ({
  name: `diagnosis-${floor}-upward-only`,
  comment: "Inside diagnosis a floor imports from those below it.",
  severity: "error",
  from: { path: `^packages/core/src/diagnosis/${floor}/`, pathNot: TESTS },
  to: { path: `^packages/core/src/diagnosis/(${diagnosisFloors.slice(level + 1).join("|")})/` },
}));

module.exports = {
  forbidden: [
    ...upward,
    ...floorsUpward,
    {
      name: "diagnosis-floors-not-by-the-door",
      comment: "The door is for those outside; inside, a file is imported by its own name.",
      severity: "error",
      from: { path: "^packages/core/src/diagnosis/", pathNot: TESTS },
      to: { path: "^packages/core/src/diagnosis/index\\.ts$" },
    },
    {
      name: "diagnosis-has-no-other-rooms",
      severity: "error",
      from: { path: `^packages/core/src/diagnosis/(?!(?:${diagnosisFloors.join("|")})/|index\\.ts$)` },
      to: {},
    },
    {
      name: "no-circles",
      severity: "error",
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } },
    },
    {
      name: "core-imports-nothing-but-zod",
      severity: "error",
      from: { path: "^packages/core/src/", pathNot: TESTS },
      to: { pathNot: "^(packages/core/src/|node_modules/zod/)" },
    },
    {
      name: "core-folders-by-their-index",
      comment: "Outside a folder its index.ts is the door.",
      severity: "error",
      from: { path: "^packages/core/src/([^/]+)/", pathNot: TESTS },
      to: { path: "^packages/core/src/([^/]+)/", pathNot: ["^packages/core/src/$1/", "/index\\.ts$"] },
    },
    {
      name: "drawing-imports-core-only",
      severity: "error",
      from: { path: "^packages/drawing/src/", pathNot: TESTS },
      to: { pathNot: "^packages/(core|drawing)/src/" },
    },
    {
      name: "protocol-imports-nothing",
      severity: "error",
      from: { path: "^packages/protocol/src/", pathNot: TESTS },
      to: { pathNot: "^packages/protocol/src/" },
    },
    {
      name: "stand-ins-import-core-and-protocol-only",
      severity: "error",
      from: { path: "^apps/stand-ins/src/", pathNot: TESTS },
      to: { path: "^(apps/(web|server|cli)/|packages/(drawing|contract)/)" },
    },
    {
      name: "apps-never-import-stand-ins",
      severity: "error",
      from: { path: "^apps/(web|server|cli)/", pathNot: TESTS },
      to: { path: "^apps/stand-ins/" },
    },
    {
      name: "contract-imports-core-only",
      severity: "error",
      from: { path: "^packages/contract/src/" },
      to: { pathNot: "^(packages/(core|contract)/src/|node_modules/zod/)" },
    },
    { name: "packages-never-import-apps", severity: "error", from: { path: "^packages/" }, to: { path: "^apps/" } },
    { name: "web-never-imports-server", severity: "error", from: { path: "^apps/web/" }, to: { path: "^apps/server/" } },
    { name: "server-never-imports-web", severity: "error", from: { path: "^apps/server/" }, to: { path: "^apps/web/" } },
    {
      name: "features-never-import-one-another",
      severity: "error",
      from: { path: "^apps/web/src/features/([^/]+)/" },
      to: { path: "^apps/web/src/features/([^/]+)/", pathNot: "^apps/web/src/features/$1/" },
    },
    {
      name: "web-app-is-only-the-roof",
      comment: "What screens share stands in job/, below them; app/ puts the whole together.",
      severity: "error",
      from: { path: "^apps/web/src/(?!app/)[^/]+/" },
      to: { path: "^apps/web/src/app/" },
    },
    {
      name: "web-job-below-features",
      severity: "error",
      from: { path: "^apps/web/src/(?!app/|features/)[^/]+/" },
      to: { path: "^apps/web/src/features/" },
    },
    {
      name: "web-ground-knows-no-job",
      severity: "error",
      from: { path: "^apps/web/src/(ui|api|worker|drawing|notation)/" },
      to: { path: "^apps/web/src/job/" },
    },
    {
      name: "ui-knows-no-domain",
      comment: "The shared parts carry no domain words.",
      severity: "error",
      from: { path: "^apps/web/src/ui/" },
      to: { path: "^(packages/|apps/web/src/(features|app|job|api|worker|drawing|notation)/)" },
    },
    // pdfmake/interfaces is a file of types only, which exists for the compiler but not for the bundler.
    { name: "not-resolvable", severity: "error", from: {}, to: { couldNotResolve: true, pathNot: "^pdfmake/interfaces$" } },
    { name: "tests-help-only-tests", severity: "error", from: { pathNot: [TESTS, "^(e2e|bench|scripts)/"] }, to: { path: TESTS } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: "specify",
    enhancedResolveOptions: {
      conditionNames: ["import", "types", "default"],
      exportsFields: ["exports"],
      extensions: [".ts", ".tsx", ".js", ".mjs", ".json"],
    },
    moduleSystems: ["es6"],
    // Without the project's own options the compiler stumbles over types that are inferred from settings.
    tsConfig: { fileName: "tsconfig.base.json" },
  },
};
