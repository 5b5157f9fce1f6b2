import type { VehicleState } from "@rheonom/core/circuit";
import type { PathJudgement, Question } from "@rheonom/core/diagnosis";
import { type Harness, lookupOf, partNameIn, pinNameIn } from "@rheonom/core/harness";
import { askedOfJob, trayInModel, type JobView, type ReadingView } from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import type { Hit } from "@rheonom/drawing/scene";
import type { BenchDraft } from "../../job/bench.ts";

/** What the Trace screen shows, from the job and what stands on the bench: no interface, no worker. */

/** Whether the trouble is there at this moment, where it comes and goes. */
export const PRESENT_WORDS = ["not said", "there", "away"] as const;
export type PresentWord = (typeof PRESENT_WORDS)[number];

/** What goes with a finding about whether the trouble was there; nothing while it always is or nobody said. */
export const presenceSaid = (share: number, word: PresentWord): { readonly present?: boolean } =>
  share >= 1 || word === "not said" ? {} : { present: word === "there" };

/** "HB1 hold blower", or "R1 start relay, coil" for a part of a device. */
export function loadWords(harness: Harness, id: string): string {
  const name = partNameIn(id);
  const inside = pinNameIn(id);
  const label = lookupOf(harness).parts.get(name)?.label;
  return [name, label].filter(Boolean).join(" ") + (inside === "" ? "" : `, ${inside}`);
}

/** The state that the vehicle is in: what stands on the bench as far as this circuit knows it, with what was unplugged, bridged or fitted. */
export function stateOnBench(draft: VehicleState, harness: Harness, view: JobView): VehicleState {
  const { parts } = lookupOf(harness);
  return { ...draft, on: draft.on.filter((id) => parts.has(id)), ...trayInModel(harness, view) };
}

/** What was measured by place, V against battery negative. */
export const measuredByPlace = (judged: PathJudgement | undefined): ReadonlyMap<string, number> =>
  new Map(
    (judged?.staircase.places ?? []).flatMap((p, i) => {
      const volts = judged!.measuredVolts[i];
      return volts === undefined ? [] : [[p, volts] as const];
    }),
  );

/** What is written at the links of suspect stretches: the drop at the first of each, nothing at the others. */
export const suspectNotes = (judged: PathJudgement | undefined): ReadonlyMap<string, string> =>
  new Map(
    (judged?.stretches ?? []).flatMap((s) =>
      s.verdict === "suspect"
        ? s.steps.map((i, n) => [judged!.staircase.steps[i]!.link.id, n === 0 ? `${formatVolts(s.dropVolts)} lost` : ""] as const)
        : [],
    ),
  );

/** What the engine is asked; undefined while nothing was found that could be weighed. */
export function questionOnBench(
  harness: Harness,
  view: JobView,
  readings: readonly ReadingView[],
  load: string,
  state: VehicleState,
): Omit<Question, "harness"> | undefined {
  const isUnstruck = (x: { readonly struck?: unknown }): boolean => x.struck === undefined;
  if (!readings.some(isUnstruck) && !view.seen.some(isUnstruck) && !view.wiggles.some(isUnstruck)) return undefined;
  return askedOfJob(harness, view, load, state);
}

/** Where a tap on the drawing puts the leads, and the field that is next; nothing for what no lead goes to. */
export function afterPick(
  draft: Pick<BenchDraft, "mode" | "armed">,
  hit: Hit,
): { readonly change: Partial<BenchDraft>; readonly focus: "red" | "value" | undefined } {
  if (hit.kind === "link") return { change: draft.mode === "amps" ? { around: hit.id } : {}, focus: undefined };
  if (draft.mode === "amps") return { change: {}, focus: undefined };
  return draft.armed === "black" ? { change: { black: hit.id, armed: "red" }, focus: "red" } : { change: { red: hit.id }, focus: "value" };
}
