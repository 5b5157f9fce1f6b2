import { execFileSync, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import fs from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { ROOT } from "../test/local-app.ts";
import { unpackOldFolder } from "../test/old-folder.ts";
import { startServer, type RunningServer } from "../test/server-process.ts";
import { walk } from "./embedded-files.ts";

const scratch = (name: string): string => fs.mkdtempSync(join(tmpdir(), `rheonom-${name}-`));
const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Names and contents of everything below a folder, and when each was changed. */
function fingerprint(folder: string): string {
  const hash = createHash("sha256");
  for (const { path, isFolder } of [...walk(folder)].sort((p, q) => (p.path < q.path ? -1 : 1)))
    hash.update(`${path} ${fs.statSync(path).mtimeMs} `).update(isFolder ? "folder" : fs.readFileSync(path));
  return hash.digest("hex");
}

/** What a server says that does not start; "started" when it does. */
const refusal = async (folder: string, env: Record<string, string> = {}): Promise<string> => {
  try {
    await (await startServer(folder, env)).kill();
    return "started";
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
};

interface Health {
  readonly data: { readonly mode: string; readonly why: string };
}
const healthOf = async (server: RunningServer): Promise<Health["data"]> =>
  ((await (await fetch(`${server.url}/api/health`)).json()) as Health).data;
const post = async (
  server: RunningServer,
  path: string,
  body: unknown,
): Promise<{ readonly status: number; readonly code: string; readonly message: string }> => {
  const answer = await fetch(server.url + path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
  return { status: answer.status, code: "", message: "", ...((await answer.json()) as object) };
};

describe("a data folder that is damaged, or none of ours", () => {
  const overwrite = (path: string, bytes: number): void => {
    const fd = fs.openSync(path, "r+");
    fs.writeSync(fd, Buffer.alloc(bytes, 0xa5), 0, bytes, 0);
    fs.closeSync(fd);
  };
  const walOf = (pg: string): string[] =>
    fs
      .readdirSync(join(pg, "pg_wal"))
      .filter((f) => f.startsWith("0"))
      .map((f) => join(pg, "pg_wal", f));
  const DAMAGES: readonly (readonly [string, (pg: string) => void, RegExp])[] = [
    ["without PG_VERSION", (pg) => fs.rmSync(join(pg, "PG_VERSION")), /not PG_VERSION/],
    ["of another version", (pg) => fs.writeFileSync(join(pg, "PG_VERSION"), "11\n"), /made by version 11/],
    ["with a write-ahead log that is overwritten", (pg) => walOf(pg).forEach((f) => overwrite(f, 2 ** 20)), /valid checkpoint record/],
    [
      "with a catalogue that is overwritten",
      (pg) => ["1259", "1249"].forEach((f) => overwrite(join(pg, "base/5", f), 32768)),
      /invalid page/,
    ],
    [
      "whose database is gone, after it was closed in order",
      (pg) => {
        fs.writeFileSync(join(pg, "../seal.json"), JSON.stringify({ files: 1, digest: "x" }));
        fs.rmSync(pg, { recursive: true });
      },
      /its files are gone/,
    ],
    ["with a control file cut short", (pg) => fs.truncateSync(join(pg, "global/pg_control"), 100), /100 bytes/],
    [
      "that holds somebody's letters",
      (pg) => {
        fs.rmSync(pg, { recursive: true });
        fs.mkdirSync(pg);
        fs.writeFileSync(join(pg, "letter.txt"), "Dear Inga");
      },
      /not PG_VERSION/,
    ],
  ];
  for (const [what, damage, why] of DAMAGES)
    it(`${what} is never written to, and is named with the ways out`, async () => {
      const folder = scratch("damaged");
      unpackOldFolder(folder);
      damage(join(folder, "pg"));
      const before = fingerprint(folder);
      const said = await refusal(folder);
      expect(said)
        .to.match(/^exit 1: /)
        .and.to.match(why);
      expect(said)
        .to.contain(folder)
        .and.to.contain("Nothing was written")
        .and.to.contain("restore")
        .and.to.contain("RHEONOM_LOOK=1")
        .and.to.contain("mv ");
      expect(fingerprint(folder)).to.equal(before);
      fs.rmSync(folder, { recursive: true, force: true });
    });
  it("can be looked at as far as it can be read, without being written to", async () => {
    const folder = scratch("look");
    unpackOldFolder(folder);
    const before = fingerprint(folder);
    const server = await startServer(folder, { RHEONOM_LOOK: "1" });
    expect(await healthOf(server)).to.include({ mode: "read-only" });
    expect(((await (await fetch(`${server.url}/api/jobs`)).json()) as { total: number }).total).to.equal(2);
    expect(await post(server, "/api/jobs", new LogWriter().make("job-opened", COMPLAINT))).to.include({
      status: 503,
      code: "data-read-only",
    });
    await server.kill("SIGTERM");
    expect(fingerprint(folder)).to.equal(before);
    fs.rmSync(folder, { recursive: true, force: true });
  });
});

/** A file system of its own, so that it can be full, read-only or mounted twice. */
function mounted(...options: string[]): string {
  const folder = scratch("mount");
  execFileSync("mount", [...options, folder]);
  return folder;
}
const unmount = (folder: string): void => {
  spawnSync("umount", ["-l", folder]);
  fs.rmSync(folder, { recursive: true, force: true });
};
/** Mounting is for root. Everything else of these is tested above; as root, as in the project's own checks, they run. */
const canMount =
  process.platform === "linux" && process.getuid?.() === 0 && spawnSync("unshare", ["--mount", "--net", "true"]).status === 0;

(canMount ? describe : describe.skip)("a data folder on a file system of its own (needs root, for mounting)", () => {
  it("is refused to a second process through a bind mount and from another network namespace", async () => {
    const folder = scratch("held");
    const first = await startServer(folder);
    const twin = mounted("--bind", folder);
    const command = [process.execPath, "--import", "./scripts/ts-hook.mjs", "apps/server/src/main.ts"];
    const second = (...through: string[]): string => {
      const run = spawnSync(through[0]!, [...through.slice(1), ...command], {
        cwd: ROOT,
        env: { ...process.env, PORT: "0", RHEONOM_DATA: twin },
        encoding: "utf8",
        timeout: 300_000,
      });
      return `${run.status} ${run.stderr}`;
    };
    for (const through of [["env"], ["unshare", "--net"], ["unshare", "--net", "--pid", "--fork", "--mount"]])
      expect(second(...through), through.join(" "))
        .to.match(/^1 .*is open in another process/)
        .and.to.contain(`process ${first.process.pid}`);
    expect(await healthOf(first)).to.include({ mode: "writable" });
    await first.kill();
    unmount(twin);
    fs.rmSync(folder, { recursive: true, force: true });
  });

  it("refuses entries while its disk is full, goes on reading, and takes entries again by itself", async () => {
    const folder = mounted("-t", "tmpfs", "-o", "size=190m", "tmpfs");
    const server = await startServer(folder);
    const log = new LogWriter();
    expect(await post(server, "/api/jobs", log.add("job-opened", COMPLAINT))).to.include({ status: 201 });
    const append = (): ReturnType<typeof post> =>
      post(server, `/api/jobs/${log.jobId}/events`, { events: [log.make("note-added", { text: "x" })] });
    // Filled to the last block, as by a log file that nobody looks after.
    spawnSync("dd", ["if=/dev/zero", `of=${folder}/ballast`, "bs=1M"]);
    const refused = await append();
    expect(refused).to.include({ status: 507, code: "disk-full" });
    expect(refused.message).to.match(/\d+ MB are left.*Free some space/);
    for (let i = 0; i < 50; i++) expect((await append()).status).to.equal(507);
    for (const path of ["/api/jobs", `/api/jobs/${log.jobId}`, "/api/health"])
      expect((await fetch(server.url + path)).status, path).to.equal(200);
    fs.rmSync(join(folder, "ballast"));
    expect(await append()).to.include({ status: 201 });
    await server.kill();
    unmount(folder);
  });

  it("is looked at when it is full at the start, and written to once there is space", async () => {
    const folder = mounted("-t", "tmpfs", "-o", "size=150m", "tmpfs");
    unpackOldFolder(folder);
    spawnSync("dd", ["if=/dev/zero", `of=${folder}/ballast`, "bs=1M"]);
    const server = await startServer(folder);
    const { mode, why } = await healthOf(server);
    expect(mode).to.equal("read-only");
    expect(why).to.match(/MB left.*Free some space/);
    expect(((await (await fetch(`${server.url}/api/jobs`)).json()) as { total: number }).total).to.equal(2);
    const opened = new LogWriter().make("job-opened", COMPLAINT);
    expect(await post(server, "/api/jobs", opened)).to.include({ status: 503, code: "data-read-only" });
    fs.rmSync(join(folder, "ballast"));
    for (let i = 0; i < 200 && (await healthOf(server)).mode !== "writable"; i++) await wait(200);
    expect(await post(server, "/api/jobs", opened)).to.include({ status: 201 });
    await server.kill();
    unmount(folder);
  });

  it("is looked at when it is read-only", async () => {
    const folder = mounted("-t", "tmpfs", "-o", "size=200m", "tmpfs");
    unpackOldFolder(folder);
    execFileSync("mount", ["-o", "remount,ro", folder]);
    const server = await startServer(folder);
    expect(await healthOf(server)).to.include({ mode: "read-only" });
    expect((await healthOf(server)).why).to.match(/cannot be written to \(EROFS\)/);
    expect(((await (await fetch(`${server.url}/api/jobs`)).json()) as { total: number }).total).to.equal(2);
    await server.kill();
    unmount(folder);
  });
});
