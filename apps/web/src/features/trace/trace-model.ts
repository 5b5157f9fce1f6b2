import type { VehicleState } from "@rheonom/core/circuit";
import { loggedWords, type CaseAnswer, type Observable, type PathJudgement, type Test } from "@rheonom/core/diagnosis";
import { batteryNegative, type Harness, loadsOf, lookupOf, partNameIn, pinNameIn } from "@rheonom/core/harness";
import type { JobView } from "@rheonom/core/job";
import { pathMarks, rankedMarks, type PathMarks } from "@rheonom/drawing/path-marks";
import type { Hit } from "@rheonom/drawing/scene";
import type { BenchDraft } from "../../job/bench.ts";
import { percent } from "../../ui/percent.ts";

/** What the Trace screen shows, from the job and what stands on the bench: no interface, no worker. */

/** Whether the trouble is there at this moment, where it comes and goes. */
export const PRESENT_WORDS = ["not stated", "present", "absent"] as const;
export type PresentWord = (typeof PRESENT_WORDS)[number];

/** What goes with a finding about whether the trouble was there; nothing while it always is or nobody said. */
export const presenceSaid = (share: number, word: PresentWord): { readonly present?: boolean } =>
  share >= 1 || word === "not stated" ? {} : { present: word === "present" };

/** "HB1 hold blower", or "R1 start relay, coil" for a part of a device. */
export function loadWords(harness: Harness, id: string): string {
  const name = partNameIn(id);
  const inside = pinNameIn(id);
  const label = lookupOf(harness).parts.get(name)?.label;
  return [name, label].filter(Boolean).join(" ") + (inside === "" ? "" : `, ${inside}`);
}

/** What was measured by place, V against battery negative. */
export const measuredByPlace = (judged: PathJudgement | undefined): ReadonlyMap<string, number> =>
  new Map(
    (judged?.staircase.places ?? []).flatMap((p, i) => {
      const volts = judged!.measuredVolts[i];
      return volts === undefined ? [] : [[p, volts] as const];
    }),
  );

/** Below this share nothing is marked in the drawing. */
const LEAST_MARKED = 0.01;

/** What stands in the drawing: what the ranking suspects, and the drops that were measured; before anything is ranked what the path alone suspects. */
export function marksOf(judged: PathJudgement | undefined, answer: CaseAnswer | undefined): PathMarks {
  const path = pathMarks(judged);
  if (answer === undefined) return path;
  const ranked = answer.suspects
    .filter((s) => s.probability >= LEAST_MARKED)
    .map((s) => ({ element: s.element, share: s.probability, words: percent(s.probability) }));
  return { ...path, suspects: rankedMarks(path.suspects, ranked) };
}

/** Loads to choose from: what is complained of first, then by what they are called, so that typing the first letters finds them. */
export function loadOptions(harness: Harness, view: JobView): readonly { readonly id: string; readonly text: string }[] {
  const said = new Set(
    view.seen.flatMap((s) => (s.struck === undefined && s.data.wrong && s.data.observe.kind === "part" ? [s.data.observe.part] : [])),
  );
  const text = (id: string): string => {
    const name = partNameIn(id);
    const label = lookupOf(harness).parts.get(name)?.label;
    const inside = pinNameIn(id);
    return (label === undefined ? name : `${label}, ${name}`) + (inside === "" ? "" : ` ${inside}`);
  };
  const isSaid = (id: string): boolean => said.has(partNameIn(id));
  return loadsOf(harness)
    .map(({ id }) => ({ id: id as string, text: text(id) }))
    .sort((p, q) => Number(isSaid(q.id)) - Number(isSaid(p.id)) || p.text.localeCompare(q.text, "en", { numeric: true }));
}

/** A test that is proposed: by the ranking of all suspects, or by the readings on this path alone. */
export interface Proposed {
  readonly words: string;
  readonly test: Test;
  /** Undefined for the path's own. */
  readonly minutes: number | undefined;
  readonly access: readonly string[];
  readonly cautions: readonly string[];
  readonly expected: CaseAnswer["next"][number]["expected"] | undefined;
}

/** One list of what may come next: what the ranking chose first, where the path would go among the alternatives; the path's alone while nothing is ranked. */
export function proposalsOf(
  answer: CaseAnswer | undefined,
  path: { readonly leads: { readonly red: string; readonly black: string }; readonly words: string } | undefined,
  state: VehicleState,
): readonly Proposed[] {
  const ranked = (answer?.next ?? []).map(({ words, state: wanted, observe, minutes, access, cautions, expected }): Proposed => {
    return { words, test: { state: wanted, observe }, minutes, access, cautions, expected };
  });
  if (path === undefined) return ranked;
  const { red, black } = path.leads;
  const isThere = ranked.some(({ test: { observe: o } }) => o.kind === "volts" && o.red === red && o.black === black);
  const own: Proposed = {
    words: path.words,
    test: { state, observe: { kind: "volts", red, black } },
    minutes: undefined,
    access: [],
    cautions: [],
    expected: undefined,
  };
  return isThere ? ranked : [...ranked, own];
}

/** The next test in the few words of a board. */
export function nextInShort(harness: Harness, o: Observable): string {
  if ("red" in o) {
    const black = o.black === batteryNegative(harness) ? "" : `, black on ${o.black}`;
    return `${o.kind === "volts" ? "red" : `${o.kind}, red`} on ${o.red}${black}`;
  }
  if (o.kind === "part") return `does ${o.part} work?`;
  return loggedWords(o);
}

/** What is to be done once enough is known, in the few words of a board. */
export const actWords = ({ act, element }: CaseAnswer["enoughToAct"]): string =>
  `${act === "renew" ? "replace" : "repair"} ${element ?? ""}`;

/** Where a tap on the drawing puts the leads, and the field that is next; nothing for what no lead goes to. */
export function afterPick(
  draft: Pick<BenchDraft, "mode" | "armed" | "red" | "black">,
  hit: Hit,
): { readonly change: Partial<BenchDraft>; readonly focus: "red" | "value" | undefined } {
  if (hit.kind === "link") return { change: draft.mode === "amps" ? { around: hit.id } : {}, focus: undefined };
  if (draft.mode === "amps") return { change: {}, focus: undefined };
  // Both leads on one place would always show 0: the tap only selects.
  if (hit.id === (draft.armed === "black" ? draft.red : draft.black)) return { change: {}, focus: undefined };
  return draft.armed === "black" ? { change: { black: hit.id, armed: "red" }, focus: "red" } : { change: { red: hit.id }, focus: "value" };
}
