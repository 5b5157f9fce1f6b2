// npm test: set-up, then every check. Ends with "N passed, N failed". npm run check: all but the browser and what works a whole server, in a minute or two.
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import { bin, root, run } from "./run.mjs";
import { ensureBuild, ensureDependencies, fail, filesOf, isTest } from "./setup.mjs";

const CHROMIUM = process.env.CHROMIUM_PATH ?? "/usr/bin/chromium";
const isQuick = process.argv.includes("--quick");
const totals = { passed: 0, failed: 0 };
/** What failed, said once more at the end: whoever sees only the last page of a long run sees why. */
const failures = [];
const began = Date.now();
const say = (text) => process.stdout.write(`\n== ${text} (${((Date.now() - began) / 1000).toFixed(0)} s)\n`);

/** What the tests need from Debian's packages: a browser, another circuit simulator, another reader of buses and another asker of instruments to compare with, and a database server. */
async function ensurePackages() {
  const missing = [
    ["ngspice", "/usr/bin/ngspice"],
    ["sigrok-cli", "/usr/bin/sigrok-cli"],
    ["python3-pyvisa-py", "/usr/lib/python3/dist-packages/pyvisa_py"],
    ...(isQuick
      ? []
      : [
          ["chromium", CHROMIUM],
          ["postgresql", "/usr/lib/postgresql"],
        ]),
  ].filter(([, path]) => !existsSync(path));
  if (missing.length === 0) return;
  const install = `apt-get update && apt-get install -y --no-install-recommends ${missing.map(([name]) => name).join(" ")}`;
  if (process.getuid?.() !== 0 || !existsSync("/usr/bin/apt-get")) {
    fail(
      `The tests need ${missing.map(([name, path]) => `${name} at ${path}`).join(" and ")}. Install as root, then run npm test again:\n  ${install}\nCHROMIUM_PATH may name another Chromium.`,
    );
  }
  say(`Debian's packages: ${missing.map(([name]) => name).join(", ")}`);
  const { code, output } = await run("bash", ["-c", install], { quiet: true, env: { DEBIAN_FRONTEND: "noninteractive" } });
  if (code !== 0 || missing.some(([, path]) => !existsSync(path)))
    fail(`${output.slice(-2000)}\nThe packages could not be installed. Run by hand: ${install}`);
}

/** A check that passes or fails as a whole. What it prints comes out in one piece, as another one runs beside it. */
const check = (name, command) => async () => {
  const { code, output } = await command();
  say(name);
  process.stdout.write(output);
  if (code === 0) totals.passed++;
  else {
    totals.failed++;
    process.stdout.write(`FAILED: ${name}\n`);
    failures.push(`${name}\n${output.trim().slice(-2000)}`);
  }
};

/** The part of a test runner's output that begins where its failures do, or its end if it names none: Mocha heads them by their number, Playwright numbers each. */
function failuresIn(output) {
  const at = [/^\s*\d+ failing\b/m, /^\s*1\) /m].map((head) => output.search(head)).find((found) => found >= 0) ?? -1;
  return (at < 0 ? output.slice(-3000) : output.slice(at, at + 6000)).trim();
}

/** A check that counts its own tests; failing without a failed test (nothing ran, a crash) counts as one failure. */
const counted = (name, command, count) => async () => {
  const { code, output } = await command();
  const { passed, failed } = count(output);
  say(name);
  process.stdout.write(output);
  totals.passed += passed;
  const isWhole = code === 0 && failed === 0 && passed > 0;
  totals.failed += isWhole ? 0 : Math.max(1, failed);
  if (!isWhole) failures.push(`${name}\n${failuresIn(output)}`);
};

/** Two cores: two at a time, in this order. */
async function twoAtATime(steps) {
  const left = [...steps];
  const worker = async () => {
    for (let step = left.shift(); step !== undefined; step = left.shift()) await step();
  };
  await Promise.all([worker(), worker()]);
}

const numberBefore = (word, text) => Number(new RegExp(`(\\d+) ${word}\\b`).exec(text)?.[1] ?? 0);
const quiet = { quiet: true };
// .mocharc.json loads the TypeScript hook; loading it twice would end Mocha without a word.
const unitTests = (name, files) =>
  counted(
    `unit tests: ${name}`,
    () => bin("mocha/bin/mocha.js", files, quiet),
    (text) => ({ passed: numberBefore("passing", text), failed: numberBefore("failing", text) }),
  );

function freePort() {
  return new Promise((done) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}

const testsOf = (folder) =>
  filesOf(join(root, folder))
    .filter(isTest)
    .map((path) => relative(root, path));

await ensureDependencies();
await ensurePackages();

// The compiler that is several times faster; the older one stays for the linter, which is built on it.
const types = (part) => check(`types: ${part}`, () => bin("typescript-7/bin/tsc", ["-p", part], quiet));
const checks = [
  types("packages"),
  types("apps"),
  types("apps/web"),
  types("tsconfig.tests.json"),
  check("published schemas are current", () =>
    run(process.execPath, ["--import", "./scripts/ts-hook.mjs", "scripts/write-schemas.ts", "--check"], quiet),
  ),
  check("pictures of the floors are current", () =>
    run(process.execPath, ["--import", "./scripts/ts-hook.mjs", "scripts/draw-floors.ts", "--check"], quiet),
  ),
  check("lint", () =>
    bin(
      "eslint/bin/eslint.js",
      ["--max-warnings", "0", "--cache", "--cache-strategy", "content", "--cache-location", ".cache/eslint", "."],
      quiet,
    ),
  ),
  check("arrows between packages", () =>
    bin(
      "dependency-cruiser/bin/dependency-cruise.mjs",
      ["packages", "apps/stand-ins/src", "apps/server/src", "apps/cli/src", "apps/web/src"],
      quiet,
    ),
  ),
  check("format", () =>
    bin(
      "prettier/bin/prettier.cjs",
      ["--check", "--cache", "--cache-strategy", "content", "--cache-location", ".cache/prettier", "--log-level", "warn", "."],
      quiet,
    ),
  ),
];
const model = testsOf("packages");
const fleet = model.filter((path) => /\/(practice|diagnosis|faults)\/|test\/(fleet|trade)/.test(path));
const rest = model.filter((path) => !fleet.includes(path));
const apps = testsOf("apps").filter((path) => !path.startsWith("apps/server/"));
const servers = testsOf("apps/server");

if (isQuick) await twoAtATime([unitTests("packages and apps, without whole vehicles and servers", [...rest, ...apps]), ...checks]);
else {
  // The longest first, so that neither core waits for the other at the end.
  await twoAtATime([
    unitTests("server", servers),
    unitTests("whole vehicles", fleet),
    unitTests("packages", rest),
    ...checks,
    unitTests("apps", apps),
  ]);
  say("build");
  await ensureBuild();
  const scratch = mkdtempSync(join(tmpdir(), "rheonom-e2e-"));
  const results = join(scratch, "results.json");
  await counted(
    "browser tests",
    async () =>
      bin("@playwright/test/cli.js", ["test", "-c", "e2e"], {
        quiet: true,
        env: {
          E2E_PORT: String(await freePort()),
          E2E_DATA: join(scratch, "data"),
          CHROMIUM_PATH: CHROMIUM,
          PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: "1",
          PLAYWRIGHT_JSON_OUTPUT_NAME: results,
        },
      }),
    () => {
      if (!existsSync(results)) return { passed: 0, failed: 0 };
      const { stats } = JSON.parse(readFileSync(results, "utf8"));
      return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
    },
  )();
  rmSync(scratch, { recursive: true, force: true });
}
for (const failure of failures) process.stdout.write(`\nFAILED: ${failure}\n`);
say("done");
// Into a pipe it is written later than it is said: leaving at once would lose the end.
process.stdout.write(`\n${totals.passed} passed, ${totals.failed} failed\n`, () => process.exit(totals.failed === 0 ? 0 : 1));
