import { expect } from "chai";
import { STEPS } from "../job/steps.ts";
import { SHORTCUTS, shortcutRows } from "../job/shortcuts.ts";
import { helpFor } from "./screen-help.ts";

const JOB = "/jobs/0190a1b2-c3d4-7e5f-8a9b-000000000000";
const VIEWS = [
  "/",
  "/jobs/new",
  "/vehicles",
  "/vehicles/plover/circuit",
  "/vehicles/plover/grounds",
  "/known-goods",
  "/plug",
  ...STEPS.map((s) => `${JOB}/${s.path}`),
];

describe("the help of a screen", () => {
  it("says for every screen what it is for, each its own, under the name that its step has", () => {
    const said = VIEWS.map((v) => helpFor(v).lines.join(" "));
    expect(new Set(said).size).to.equal(VIEWS.length);
    for (const { path, name } of STEPS) expect(helpFor(`${JOB}/${path}`).name).to.equal(name);
  });
  it("lists every shortcut on the screen that hears it, or everywhere", () => {
    const listed = new Set(
      [...shortcutRows(), ...VIEWS.flatMap((v) => helpFor(v).keys.flatMap((k) => shortcutRows(k)))].map((r) => r.words),
    );
    for (const { words } of Object.values(SHORTCUTS)) expect([...listed]).to.include(words);
  });
});
