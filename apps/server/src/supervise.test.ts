import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import { ROOT } from "./test/local-app.ts";

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const HOOK = ["--import", "./scripts/ts-hook.mjs"];

interface Ran {
  readonly child: ChildProcess;
  readonly said: () => string;
  readonly gone: Promise<number | null>;
}
function run(args: readonly string[], env: Record<string, string>): Ran {
  const child = spawn(process.execPath, [...HOOK, ...args], { cwd: ROOT, env: { ...process.env, ...env } });
  let said = "";
  child.stdout.on("data", (c: Buffer) => (said += c.toString()));
  child.stderr.on("data", (c: Buffer) => (said += c.toString()));
  return { child, said: () => said, gone: new Promise((done) => child.once("exit", done)) };
}

describe("a server that is watched over", () => {
  it("is started anew when it dies, at the same address, and stops with whoever watches", async () => {
    const folder = mkdtempSync(join(tmpdir(), "rheonom-watched-"));
    const ran = run(["apps/server/src/supervised.ts"], { PORT: "0", RHEONOM_DATA: folder });
    for (let i = 0; i < 400 && !ran.said().includes("is ready"); i++) await wait(100);
    const url = /http:\/\/\S+?(?=\/\s)/.exec(ran.said())![0];
    const pidOf = async (): Promise<number | undefined> => {
      try {
        return ((await (await fetch(`${url}/api/health`)).json()) as { pid: number }).pid;
      } catch {
        return undefined;
      }
    };
    const first = await pidOf();
    expect(first).to.be.a("number").and.not.to.equal(ran.child.pid);
    process.kill(first!, "SIGKILL");
    let second: number | undefined;
    for (let i = 0; i < 400 && (second === undefined || second === first); i++) {
      await wait(100);
      second = await pidOf();
    }
    expect(second).to.be.a("number").and.not.to.equal(first);
    expect(ran.said()).to.contain("The server has ended (SIGKILL) and is started again");
    ran.child.kill("SIGTERM");
    expect(await ran.gone).to.equal(0);
    expect(await pidOf()).to.equal(undefined);
    rmSync(folder, { recursive: true, force: true });
  });

  it("is not started over and over for a setting that cannot be used", async () => {
    const ran = run(["apps/server/src/supervised.ts"], { PORT: "eighty" });
    expect(await ran.gone).to.equal(1);
    expect(ran.said().match(/PORT/g)).to.have.lengthOf(1);
  });
});

describe("a failure that nothing catches", () => {
  for (const [what, path] of [
    ["thrown in a callback", "/throw?of=it"],
    ["a promise that nobody waits for", "/reject?of=it"],
  ] as const)
    it(`${what} is logged with its request and those beside it, and ends in order`, async () => {
      const ran = run(["apps/server/src/test/crashing-server.ts"], {});
      for (let i = 0; i < 300 && !ran.said().includes("!"); i++) await wait(50);
      const port = /port (\d+)!/.exec(ran.said())?.[1];
      expect(port, ran.said()).to.not.equal(undefined);
      const beside = fetch(`http://127.0.0.1:${port}/beside`).catch(() => undefined);
      await wait(50);
      await fetch(`http://127.0.0.1:${port}${path}`).catch(() => undefined);
      expect(await ran.gone).to.equal(70);
      await beside;
      const line = JSON.parse(
        ran
          .said()
          .split("\n")
          .find((l) => l.includes("nobody expected"))!,
      ) as { request: { url: string }; open: { url: string }[] };
      expect(line.request.url).to.equal(path);
      expect(line.open.map((o) => o.url).sort()).to.deep.equal(["/beside", path]);
      expect(ran.said()).to.contain("stopping in order");
    });
});

describe("a database that gives up", () => {
  it("is opened again; what was on its way is asked for again, and stands once", async () => {
    const folder = mkdtempSync(join(tmpdir(), "rheonom-lost-"));
    const ran = run(["apps/server/src/test/losing-store.ts", folder], {});
    expect(await ran.gone, ran.said()).to.equal(0);
    const [first, mode, reading, again, log] = ran.said().trim().split("\n");
    // It may have been stored before the end came; the answer is then as good as lost.
    expect(first).to.be.oneOf(["stored", "data-opening"]);
    expect([mode, reading, again, log]).to.deep.equal(["opening", "data-opening", "writable", "opened note"]);
    rmSync(folder, { recursive: true, force: true });
  });
});
