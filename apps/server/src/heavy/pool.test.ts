import { expect } from "chai";
import { AppError } from "../errors.ts";
import { localHeavy } from "../test/local-app.ts";
import { FAN } from "../../../../packages/core/src/test/circuits.ts";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";

const bytesOf = (log: LogWriter): Uint8Array =>
  new TextEncoder().encode(JSON.stringify({ id: log.jobId, simulated: true, events: log.events, next: log.events.length }));

describe("heavy tasks", () => {
  it("know what the line to a vehicle needs of a log: circuit, what is still wrong, whether codes are written down", async () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    const truth = [{ kind: "open", link: "F1" }] as const;
    expect(await localHeavy.run("lineFacts", bytesOf(log), truth)).to.deep.equal({ harness: undefined, faults: truth, codesKept: false });
    log.add("circuit-set", { notation: FAN });
    log.add("mend-made", { at: "F1", found: "x", cause: "", method: "fuse renewed", done: "x" });
    const facts = await localHeavy.run("lineFacts", bytesOf(log), truth);
    expect(facts.harness?.name).to.be.a("string");
    expect(facts.faults).to.deep.equal([]);
  });
  it("refuse a body that is not a harness with every problem, as the API tells it", async () => {
    const refused = await localHeavy.run("importHarness", new TextEncoder().encode('{"harness":{}}')).catch((error: unknown) => error);
    expect(refused).to.be.instanceOf(AppError);
    expect((refused as AppError).code).to.equal("body-invalid");
    expect((refused as AppError).issues.map((i) => i.path)).to.include.members(["basedOn", "by"]);
  });
});
