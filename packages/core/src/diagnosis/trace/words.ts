import { describeLink, describePlace, type Harness } from "../../harness/index.ts";
import { formatAmps, formatOhms, formatVolts, unreachable } from "../../quantity/index.ts";
import type { Stretch, PathJudgement } from "./judge.ts";
import type { NextLeads, PathAnswer } from "./verdict.ts";

/** A verdict in two parts: what a technician would say first, and the figures behind it. */
export interface VerdictWords {
  readonly headline: string;
  readonly detail: string;
  readonly tone: "fault" | "sound" | "open question";
}

/** Puts the answer into trade words. */
export function wordVerdict(harness: Harness, trace: PathJudgement, answer: PathAnswer): VerdictWords {
  const { verdict } = answer;
  switch (verdict.kind) {
    case "nothing measured":
      return {
        tone: "open question",
        headline: "No reading in this state yet.",
        detail: "Begin at the battery: every other reading is judged from it.",
      };
    case "battery not measured":
      return {
        tone: "open question",
        headline: "The battery is not measured in this state.",
        detail: "Without it nobody can say what the circuit started with.",
      };
    case "unloaded": {
      const close = verdict.close.length > 0 ? ` To load it: ${verdict.close.join(", ")}.` : "";
      return {
        tone: "open question",
        headline: "No current flows, so this reading does not test the wire.",
        detail: `Through a good circuit nothing would flow to ${trace.staircase.loadId} in this state. An unloaded wire with one strand left reads full voltage.${close}`,
      };
    }
    case "reference":
      return {
        tone: "open question",
        headline: `The black lead was on ${verdict.black}, not at battery negative.`,
        detail: `The reference is itself measured first: red on ${verdict.black}, black on battery negative, in the same state. Then the reading counts.`,
      };
    case "found":
      return { tone: "fault", ...foundWords(harness, trace, verdict.stretch, answer.others) };
    case "narrowed":
      return {
        tone: "fault",
        headline: `${formatVolts(verdict.stretch.dropVolts)} dropped between ${verdict.stretch.fromPlace} and ${verdict.stretch.toPlace}.`,
        detail: `${verdict.stretch.steps.length} parts between; expected drop ${formatVolts(verdict.stretch.soundDropVolts)}${limitWords(verdict.stretch)}. Measure between them.${othersWords(answer.others)}`,
      };
    case "unclear":
      return { tone: "open question", ...unclearWords(verdict.stretch) };
    case "part of the path":
      return {
        tone: "open question",
        headline: "No fault on what is measured so far.",
        detail: "Not every part of the path is covered yet.",
      };
    case "path sound":
      return {
        tone: "sound",
        headline: `Feed and ground of ${trace.staircase.loadId} are good under load.`,
        detail: `${formatVolts(verdict.loadVolts)} stands across it while it is switched on. If it does not work now, suspect the part itself.`,
      };
    default:
      return unreachable(verdict);
  }
}

const limitWords = (s: Stretch): string => (s.limitVolts === undefined ? "" : `; limit ${formatVolts(s.limitVolts)}`);
const othersWords = (others: readonly Stretch[]): string =>
  others.length === 0
    ? ""
    : ` Also too tall: ${others.map((o) => `${o.fromPlace} to ${o.toPlace} (${formatVolts(o.dropVolts)})`).join(", ")}.`;

/** Names of what a stretch covers. */
export function stretchName(harness: Harness, trace: PathJudgement, stretch: Stretch): string {
  return stretch.steps.map((i) => describeLink(harness, trace.staircase.steps[i]!.link)).join("; ");
}

function foundWords(
  harness: Harness,
  trace: PathJudgement,
  s: Stretch,
  others: readonly Stretch[],
): Pick<VerdictWords, "headline" | "detail"> {
  const where = `between ${s.fromPlace} and ${s.toPlace}`;
  const said = stretchName(harness, trace, s);
  const name = `${said[0]!.toUpperCase()}${said.slice(1)}.`;
  if (s.open) {
    return {
      headline: `Open ${where}: the full ${formatVolts(s.dropVolts)} across it.`,
      detail: `${name} Next to no current passes. Check terminals, crimps and the run of wire.${othersWords(others)}`,
    };
  }
  return {
    headline: `${formatVolts(s.dropVolts)} dropped ${where}; expected ${formatVolts(s.soundDropVolts)}.`,
    detail: `${name} ${ohmsWords(s)}${limitWords(s)}.${othersWords(others)}`,
  };
}

function ohmsWords(s: Stretch): string {
  if (s.ohms === undefined) return "The current differs along it, so the resistance follows only from a step measured alone";
  return `At ${formatAmps(s.amps)} (${ampsWords(s.ampsFrom)}) that is ${formatOhms(s.ohms)} instead of ${formatOhms(s.soundOhms)}`;
}

function ampsWords(from: Stretch["ampsFrom"]): string {
  switch (from) {
    case "clamp":
      return "clamp reading";
    case "voltage at the load":
      return "from the voltage at the load";
    case "model with this resistance":
      return "the circuit's current with that resistance in it";
    case "model":
      return "computed for a good circuit";
  }
}

function unclearWords(s: Stretch): Pick<VerdictWords, "headline" | "detail"> {
  const where = `from ${s.fromPlace} to ${s.toPlace}`;
  if (s.why === "rises along the path") {
    return {
      headline: `The potential rises ${where}.`,
      detail:
        "It cannot rise along the current. The leads were swapped, a number is wrong, or the state changed between the readings. Take it again.",
    };
  }
  if (s.why === "too little current") {
    return {
      headline: `Too little current flows ${where} to judge it.`,
      detail: `About ${formatAmps(s.amps)} passes. Once the circuit carries its load again, measure this part again.`,
    };
  }
  return {
    headline: `The drop ${where} is too close to call.`,
    detail: `${formatVolts(s.dropVolts)} ± ${formatVolts(s.uncertaintyVolts)}${limitWords(s)}. Two long readings hide a small drop: put both leads across this part.`,
  };
}

/** Why a stretch cannot be judged, in a few words for a table. */
export function whyWords(s: Stretch): string {
  switch (s.why) {
    case undefined:
      return "";
    case "no current":
      return "no current flows";
    case "too little current":
      return "too little current";
    case "load inside":
      return "the load lies inside";
    case "too close to call":
      return "too close to call";
    case "rises along the path":
      return "rises along the path";
  }
}

/** "Red on F3.2 (…), black on battery negative: halves the remaining path." */
export function nextWords(harness: Harness, next: NextLeads): string {
  const reason: Record<NextLeads["reason"], string> = {
    "battery first": "the source comes first",
    "tie the reference": "ties the reference to battery negative",
    "voltage at the load": "tells feed side from ground side",
    "ground of the load": "proves the ground under load",
    split: "halves the remaining path",
    closer: "both leads across it show a small drop exactly",
  };
  const place = (p: string): string => {
    const said = describePlace(harness, p);
    return said.includes(p) ? said : `${p} (${said})`;
  };
  return `Red on ${place(next.red)}, black on ${place(next.black)}: ${reason[next.reason]}.`;
}
