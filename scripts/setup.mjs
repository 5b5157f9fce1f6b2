import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { bin, root, run } from "./run.mjs";

const sha = () => createHash("sha256");
const npm = process.platform === "win32" ? "npm.cmd" : "npm";

/** Stops with a message instead of a stack trace. */
export function fail(message) {
  process.stderr.write(`${message}\n`);
  process.exit(1);
}

/** Installs the dependencies of the lock file unless they are there already. */
export async function ensureDependencies() {
  const [major] = process.versions.node.split(".").map(Number);
  if (major < 20) fail(`Node.js 20 or newer is needed; this is ${process.version}.`);
  const stamp = join(root, "node_modules/.lock-hash");
  const hash = sha()
    .update(readFileSync(join(root, "package-lock.json")))
    .digest("hex");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === hash) return;
  process.stdout.write("Installing dependencies …\n");
  const { code } = await run(npm, ["ci", "--ignore-scripts", "--no-audit", "--no-fund"]);
  if (code !== 0) fail("The dependencies could not be installed; see above. Check the network and run the command again.");
  writeFileSync(stamp, hash);
}

/** Every file of the project below a folder, sorted. */
export function filesOf(folder) {
  return readdirSync(folder, { withFileTypes: true })
    .flatMap((entry) => {
      const path = join(folder, entry.name);
      if (entry.name === "node_modules" || /^dist(-|$)/.test(entry.name)) return [];
      return entry.isDirectory() ? filesOf(path) : [path];
    })
    .sort();
}

export const isTest = (path) => /\.test\.tsx?$/.test(path);

/** Every source file that the build depends on, sorted. */
const sourcesOf = (folder) => filesOf(folder).filter((path) => !isTest(path));

/** Builds web and server unless nothing has changed since the last build. */
export async function ensureBuild() {
  const hash = sha().update(readFileSync(join(root, "package-lock.json")));
  for (const folder of ["packages", "apps", "scripts"]) {
    for (const path of sourcesOf(join(root, folder))) hash.update(path.slice(root.length)).update(readFileSync(path));
  }
  const digest = hash.digest("hex");
  const stamp = join(root, ".cache/build-hash");
  const built = ["apps/web/dist/index.html", "apps/server/dist/supervised.mjs", "apps/stand-ins/dist/main.mjs"].every((f) =>
    existsSync(join(root, f)),
  );
  if (built && existsSync(stamp) && readFileSync(stamp, "utf8") === digest) return;
  process.stdout.write("Building …\n");
  rmSync(stamp, { force: true });
  const web = await bin("vite/bin/vite.js", ["build", "apps/web", "--logLevel", "warn"]);
  if (web.code !== 0) fail("The web application could not be built; see above.");
  await bundle("apps/server", {
    main: "main.ts",
    supervised: "supervised.ts",
    "store-thread": "store/thread.ts",
    "heavy-worker": "heavy/worker.ts",
  });
  await bundle("apps/stand-ins", { main: "main.ts" });
  mkdirSync(join(root, ".cache"), { recursive: true });
  writeFileSync(stamp, digest);
}

/** Builds the command line unless its sources are older than it. Several may be started at once: each builds beside, and one of them takes the place. */
export async function ensureCommand() {
  const main = join(root, "apps/cli/dist/main.mjs");
  const builtAt = existsSync(main) ? statSync(main).mtimeMs : 0;
  const folders = ["packages", "apps/cli/src", "scripts"].map((folder) => join(root, folder));
  const isNewer = (path) => statSync(path).mtimeMs > builtAt;
  if (builtAt > 0 && !isNewer(join(root, "package-lock.json")) && !folders.flatMap(sourcesOf).some(isNewer)) return;
  const beside = `dist-${process.pid}`;
  await bundle("apps/cli", { main: "main.ts" }, beside);
  rmSync(join(root, "apps/cli/dist"), { recursive: true, force: true });
  try {
    renameSync(join(root, "apps/cli", beside), join(root, "apps/cli/dist"));
  } catch (error) {
    if (!existsSync(main)) throw error;
    rmSync(join(root, "apps/cli", beside), { recursive: true, force: true });
  }
}

/** A file for each process and thread, and what they share: they start several times faster than from their sources. */
export async function bundle(app, entries, folder = "dist") {
  const { build } = await import("esbuild");
  rmSync(join(root, app, folder), { recursive: true, force: true });
  await build({
    entryPoints: Object.fromEntries(Object.entries(entries).map(([name, file]) => [name, join(root, app, "src", file)])),
    outdir: join(root, app, folder),
    outExtension: { ".js": ".mjs" },
    bundle: true,
    splitting: true,
    platform: "node",
    format: "esm",
    target: "node20",
    sourcemap: true,
    // Its main file asks for its others in a way that cannot be bundled.
    alias: { "jsonc-parser": "jsonc-parser/lib/esm/main.js" },
    // These find files of their own beside themselves, or are loaded only when they are needed.
    external: [
      "@electric-sql/pglite",
      "dejavu-fonts-ttf",
      "elkjs",
      "fs-native-extensions",
      "pdfmake",
      "pg",
      "pg-native",
      "pino",
      "pino-http",
      "sharp",
      "workerpool",
    ],
    banner: {
      js: 'import { createRequire as createRequireOfBundle } from "node:module"; const require = createRequireOfBundle(import.meta.url);',
    },
    logLevel: "warning",
  });
}
