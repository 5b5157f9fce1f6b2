import { expect } from "chai";
import { createHash } from "node:crypto";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { canonical, chainedLog, checkChain, linkText, type ChainedLog } from "./chain.ts";

const sha256 = (text: string): string => createHash("sha256").update(text, "utf8").digest("hex");

function chained(): ChainedLog {
  const log = new LogWriter();
  log.add("job-opened", COMPLAINT);
  log.add("note-added", { text: "Ω, “quoted”\nand a line" });
  const wrong = log.add("note-added", { text: "wrong" });
  log.add("struck", { target: wrong.id, why: "slip" });
  const { jobId } = log.events[0]!;
  let hash = "";
  const entries = log.events.map(({ id, type, at, by, data }) => ({
    id,
    type,
    at,
    by,
    data,
    hash: (hash = sha256(linkText(hash, jobId, { id, type, at, by, data }))),
  }));
  return { format: "rheonom-log", version: 1, jobId, exportedAt: "2026-05-20T12:00:00.000Z", entries };
}

describe("the chain of a log", () => {
  it("has the same text for the same content, whatever the order of its keys", () => {
    expect(canonical({ b: [1, { d: null, c: "x" }], a: undefined, A: true })).to.equal('{"A":true,"b":[1,{"c":"x","d":null}]}');
    // sha256 of "abc", FIPS 180-2: the function that the chain is given here.
    expect(sha256("abc")).to.equal("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
  });
  it("fits as it was stored, also after a way through JSON", async () => {
    const log = chainedLog.parse(JSON.parse(JSON.stringify(chained())));
    expect(await checkChain(log, sha256)).to.deep.equal({
      kind: "fits",
      entries: 4,
      hash: log.entries.at(-1)!.hash,
      unchained: 0,
      removed: 0,
    });
  });
  it("names the first entry that does not fit, whatever was changed in it", async () => {
    const good = chained();
    const broken = async (change: (e: ChainedLog["entries"][number]) => object, at = 1): Promise<unknown> => {
      const entries = good.entries.map((e, i) => (i === at ? { ...e, ...change(e) } : e));
      const found = await checkChain({ ...good, entries }, sha256);
      return found.kind === "broken" ? found.number : found.kind;
    };
    expect(await broken(() => ({ data: { text: "other" } }))).to.equal(2);
    expect(await broken(() => ({ by: "Somebody" }))).to.equal(2);
    expect(await broken(() => ({ at: "2026-05-20T09:59:59.999Z" }), 2)).to.equal(3);
    expect(await broken((e) => ({ hash: e.hash.replace(/^./, (c) => (c === "0" ? "1" : "0")) }))).to.equal(2);
    const without = { ...good, entries: good.entries.filter((_, i) => i !== 1) };
    expect(await checkChain(without, sha256)).to.include({ kind: "broken", number: 2 });
    const moved = { ...good, entries: [good.entries[0]!, good.entries[2]!, good.entries[1]!, good.entries[3]!] };
    expect(await checkChain(moved, sha256)).to.include({ kind: "broken", number: 2 });
    expect(await checkChain({ ...good, jobId: good.jobId.replace(/.$/, (c) => (c === "0" ? "1" : "0")) as never }, sha256)).to.include({
      kind: "broken",
      number: 1,
    });
  });
  it("says how many entries are older than the chain, and holds from there on", async () => {
    const good = chained();
    let hash = "";
    const entries = good.entries.map((e, i) =>
      i < 2 ? { ...e, hash: "" } : { ...e, hash: (hash = sha256(linkText(hash, good.jobId, e))) },
    );
    expect(await checkChain({ ...good, entries }, sha256)).to.include({ kind: "fits", unchained: 2 });
    const cut = entries.map((e, i) => (i === 3 ? { ...e, hash: "" as const } : e));
    expect(await checkChain({ ...good, entries: cut }, sha256)).to.include({ kind: "broken", number: 4 });
  });
});
