import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import type { CodeEntry } from "../codes/index.ts";
import { answerCase } from "../diagnosis/index.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { asleepIn, triageOfJob } from "./codes.ts";
import { foldJob } from "./fold.ts";
import { questionOfJob } from "./question.ts";
import { vehicleOf } from "../test/vehicles.ts";

const brigg = vehicleOf("brigg");
const run = { ...REST_STATE, key: "run" as const };
const MODULES = ["ECM", "BCM", "TCM", "CLU"].map((id) => ({ id, answers: true }));
const active = (code: string): CodeEntry => ({ module: "ECM", code, status: "active" });

function asked(
  codes: readonly CodeEntry[],
  complaint: Partial<typeof COMPLAINT> = {},
  source: "scan" | "typed" = "scan",
  mute: readonly string[] = [],
) {
  const log = new LogWriter();
  log.add("job-opened", { ...COMPLAINT, ...complaint });
  log.add("codes-read", {
    scan: {
      format: "rheonom-scan",
      version: 1,
      takenAt: "2026-05-20T15:00:00.000Z",
      source,
      modules: MODULES.map((m) => ({ ...m, answers: !mute.includes(m.id) })),
      codes: [...codes],
    },
    state: run,
  });
  return questionOfJob(brigg, foldJob(log.events)!, "L1", REST_STATE);
}

describe("the question of a job", () => {
  it("is about the parts that the codes name where nobody complains of any, in the state of the scan", () => {
    const q = asked([active("P0118"), active("P0113")]);
    expect(q.focus).to.have.members(["ECT", "IAT"]);
    expect(q.state.key).to.equal("run");
    expect(asked([]).focus).to.deep.equal(["L1"]);
    // A module without a response is complained of where it gave none.
    const silent = asked([], {}, "scan", ["TCM"]);
    expect([silent.focus, silent.state.key]).to.deep.equal([["TCM"], "run"]);
  });
  it("counts the codes that a scan did not find against what would set them, and those of a typed list not", () => {
    const absent = (q: ReturnType<typeof asked>): readonly string[] =>
      q.evidence.flatMap((e) =>
        e.result.kind === "word" && e.result.word === "absent" && e.observe.kind === "code" ? [e.observe.code] : [],
      );
    expect(absent(asked([active("P0118")])))
      .to.include.members(["P0113", "P0642"])
      .and.not.include("P0118");
    expect(absent(asked([active("P0118")], {}, "typed"))).to.deep.equal([]);
    // Two sensors too high and the reference good: their common return, not each sensor, and not the reference.
    const { suspects } = answerCase(asked([active("P0118"), active("P0113")]), "none");
    const returns = ["C4.2", "W44", "W45", "ECM"];
    expect(suspects[0]!.element).to.be.oneOf(returns);
  });
  it("counts no module as silent that is asleep with the key as it was, neither as a complaint nor as evidence", () => {
    // Only the transmission module has no feed but the key's.
    expect(asleepIn(brigg, REST_STATE)).to.deep.equal(["TCM"]);
    expect(asleepIn(brigg, run)).to.deep.equal([]);
    const modules = MODULES.map(({ id }) => ({ id, answers: id !== "TCM" && id !== "CLU", ...(id === "TCM" ? { asleep: true } : {}) }));
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("codes-read", {
      scan: { format: "rheonom-scan", version: 1, takenAt: "2026-05-20T15:00:00.000Z", source: "scan", modules, codes: [] },
      state: REST_STATE,
    });
    const view = foldJob(log.events)!;
    const q = questionOfJob(brigg, view, "L1", REST_STATE);
    expect(q.focus).to.deep.equal(["CLU"]);
    expect(q.evidence.flatMap((e) => (e.observe.kind === "answers" ? [e.observe.module] : []))).to.deep.equal(["ECM", "BCM", "CLU"]);
    const sorted = triageOfJob(brigg, view)!;
    expect([sorted.silent, sorted.notExpected, sorted.first?.parts]).to.deep.equal([["CLU"], ["TCM"], ["CLU"]]);
  });
  it("takes a lamp for what it is about, and a trouble that was not seen here for one that comes and goes", () => {
    expect(asked([], { warningLamps: ["charge"] as never }).focus).to.deep.equal(["ALT"]);
    expect(asked([], { warningLamps: ["airbag"] as never }).focus).to.deep.equal(["L1"]);
    expect(asked([], { reproduced: "no" as never }).presence).to.equal(0.3);
    expect(asked([], { reproduced: "yes" as never }).presence).to.equal(1);
  });
});
