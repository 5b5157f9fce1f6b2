import { expect } from "chai";
import type { JobSummary } from "@rheonom/contract/light";
import { dayOf, isLate, isWaiting } from "./planner-model.ts";

const NOW = "2026-12-01T10:00";
const job = (id: string, part: Partial<JobSummary>): JobSummary => ({
  id,
  vehicle: "Van",
  registration: id,
  words: "",
  stage: "trace",
  openedAt: "2026-11-30T08:00:00.000Z",
  lastAt: "2026-11-30T08:00:00.000Z",
  openedBy: "Inga",
  leftUndone: 0,
  whose: "Inga",
  waits: "",
  until: "",
  promised: "",
  hours: null,
  hoursOpen: 1,
  askOn: "",
  askAfter: "",
  next: "",
  demo: false,
  ...part,
});

describe("the planner", () => {
  it("sorts each lane by what is promised, and counts its hours without what waits", () => {
    const { lanes, waiting } = dayOf(
      [
        job("a", { promised: "", hoursOpen: 2 }),
        job("b", { promised: "2026-12-01T16:00", hoursOpen: 0.5 }),
        job("c", { promised: "2026-12-01T12:00" }),
        job("d", { waits: "part", until: "2026-12-03", hoursOpen: 7 }),
        job("e", { whose: "Pell" }),
        job("f", { stage: "closed" }),
      ],
      ["Morag"],
      NOW,
    );
    expect(lanes.map((l) => [l.person, l.jobs.map((j) => j.id).join(""), l.hours])).to.deep.equal([
      ["Morag", "", 0],
      ["Inga", "cba", 3.5],
      ["Pell", "e", 1],
    ]);
    expect(waiting.map((j) => j.id)).to.deep.equal(["d"]);
  });

  it("lets a job come back when its wait ends: by day from its morning on, by minute at that minute", () => {
    expect(isWaiting({ waits: "part", until: "2026-12-02" }, NOW)).to.equal(true);
    expect(isWaiting({ waits: "part", until: "2026-12-01" }, NOW)).to.equal(false);
    expect(isWaiting({ waits: "cold engine", until: "2026-12-01T10:01" }, NOW)).to.equal(true);
    expect(isWaiting({ waits: "cold engine", until: "2026-12-01T10:00" }, NOW)).to.equal(false);
    expect(isWaiting({ waits: "customer", until: "" }, NOW)).to.equal(true);
    expect([isLate({ promised: "" }, NOW), isLate({ promised: "2026-12-01T09:59" }, NOW)]).to.deep.equal([false, true]);
  });

  it("gives a job of nobody a lane of its own", () => {
    expect(dayOf([job("a", { whose: "" })], [], NOW).lanes.map((l) => l.person)).to.deep.equal([""]);
  });
});
