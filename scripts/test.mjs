// npm test: set-up, then every check. Ends with "N passed, N failed".
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { bin, run } from "./run.mjs";
import { ensureBuild, ensureDependencies, fail } from "./setup.mjs";

const CHROMIUM = process.env.CHROMIUM_PATH ?? "/usr/bin/chromium";
const totals = { passed: 0, failed: 0 };
const began = Date.now();
const say = (text) => process.stdout.write(`\n== ${text} (${((Date.now() - began) / 1000).toFixed(0)} s)\n`);

/** What the tests need from Debian's packages: a browser, another circuit simulator to compare with, and a database server. */
async function ensurePackages() {
  const missing = [
    ["chromium", CHROMIUM],
    ["ngspice", "/usr/bin/ngspice"],
    ["postgresql", "/usr/lib/postgresql"],
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

/** A check that passes or fails as a whole. */
async function check(name, command) {
  say(name);
  const { code } = await command();
  if (code === 0) totals.passed++;
  else {
    totals.failed++;
    process.stdout.write(`FAILED: ${name}\n`);
  }
}

/** A check that counts its own tests; failing without a failed test (nothing ran, a crash) counts as one failure. */
async function counted(name, command, count) {
  say(name);
  const { code, output } = await command();
  const { passed, failed } = count(output);
  totals.passed += passed;
  totals.failed += failed + (failed === 0 && (code !== 0 || passed === 0) ? 1 : 0);
}

const numberBefore = (word, text) => Number(new RegExp(`(\\d+) ${word}\\b`).exec(text)?.[1] ?? 0);

function freePort() {
  return new Promise((done) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}

await ensureDependencies();
await ensurePackages();

await check("format", () => bin("prettier/bin/prettier.cjs", ["--check", "--log-level", "warn", "."]));
await check("lint", () => bin("eslint/bin/eslint.js", ["--max-warnings", "0", "."]));
for (const part of [
  "packages/core",
  "packages/protocol",
  "packages/contract",
  "packages/drawing",
  "apps/stand-ins",
  "apps/server",
  "apps/cli",
  "apps/web",
  "tsconfig.tests.json",
]) {
  await check(`types: ${part}`, () => bin("typescript/bin/tsc", ["-p", part]));
}
await check("arrows between packages", () =>
  bin("dependency-cruiser/bin/dependency-cruise.mjs", [
    "packages",
    "apps/stand-ins/src",
    "apps/server/src",
    "apps/cli/src",
    "apps/web/src",
  ]),
);
await check("published schemas are current", () =>
  run(process.execPath, ["--import", "./scripts/ts-hook.mjs", "scripts/write-schemas.ts", "--check"]),
);
// .mocharc.json loads the TypeScript hook; loading it twice would end Mocha without a word.
await counted(
  "unit tests",
  () => bin("mocha/bin/mocha.js", ["packages/**/*.test.ts", "apps/**/*.test.ts"]),
  (text) => ({ passed: numberBefore("passing", text), failed: numberBefore("failing", text) }),
);

say("build");
await ensureBuild();
const scratch = mkdtempSync(join(tmpdir(), "rheonom-e2e-"));
const results = join(scratch, "results.json");
await counted(
  "browser tests",
  async () =>
    bin("@playwright/test/cli.js", ["test", "-c", "e2e"], {
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
);
rmSync(scratch, { recursive: true, force: true });
say("done");
process.stdout.write(`\n${totals.passed} passed, ${totals.failed} failed\n`);
process.exit(totals.failed === 0 ? 0 : 1);
