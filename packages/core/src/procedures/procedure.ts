import type { VehicleState } from "../circuit/index.ts";
import type { Observable, ResultWord, Test } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import type { PathKind, RuleSet } from "../limits/index.ts";

/** What a procedure is done on. */
export interface Target {
  /** Part, wire, ground, bus or pin. */
  readonly element: string;
  readonly words: string;
}

/** A question on which schools differ. All answers are offered; the usual one is taken when nobody chooses. */
export interface Choice {
  readonly id: string;
  readonly asks: string;
  readonly options: readonly { readonly id: string; readonly words: string; readonly why: string }[];
  readonly usual: string;
}

/** Where and how a procedure is done. */
export interface Setting {
  readonly harness: Harness;
  readonly target: string;
  /** Option by choice. */
  readonly chosen: Readonly<Record<string, string>>;
  readonly rules: RuleSet;
  /** Temperature and everything that nobody says otherwise is taken from here. */
  readonly state: VehicleState;
}

export type Grade = "good" | "bad";

/** By what a step is graded. */
export type Good =
  /** As the model says that a sound vehicle would show. */
  | { readonly kind: "as sound" }
  /** No less than that: with less current flowing it is more. */
  | { readonly kind: "at least sound" }
  | { readonly kind: "at most" | "at least"; readonly value: number }
  | { readonly kind: "between"; readonly low: number; readonly high: number }
  /** A drop, by the shop's limits, or by what sound copper drops at this current where that is more. */
  | { readonly kind: "drop"; readonly path: PathKind }
  | { readonly kind: "word"; readonly words: readonly ResultWord[] }
  /** The same as another step, within so many volts. */
  | { readonly kind: "same as"; readonly step: string; readonly within: number };

export interface Step {
  readonly id: string;
  /** What is done, in trade words. */
  readonly does: string;
  readonly test: Test;
  readonly good: Good;
  /** It makes sense only when these steps came out so. */
  readonly only?: Readonly<Record<string, Grade>>;
  readonly because?: string;
  /** What could otherwise be refused for the sake of equipment is part of this step as the trade does it. */
  readonly knowingly?: boolean;
}

/** What the steps together mean; the first that fits counts. */
export interface Rule {
  readonly when: Readonly<Record<string, Grade>>;
  readonly words: string;
  /** What is to blame. */
  readonly points: readonly string[];
  /** Nothing wrong was found. */
  readonly sound?: boolean;
}

/** A test of the trade, as data for any circuit that has what it is done on. */
export interface Procedure {
  readonly id: string;
  readonly name: string;
  /** The question that it answers. */
  readonly asks: string;
  readonly cautions: readonly string[];
  readonly choices: readonly Choice[];
  readonly targetsOf: (harness: Harness) => readonly Target[];
  readonly plan: (setting: Setting) => { readonly steps: readonly Step[]; readonly rules: readonly Rule[] };
}

/** A step that reads volts. */
export const volts = (
  id: string,
  does: string,
  state: VehicleState,
  red: string,
  black: string,
  good: Good,
  more: Partial<Pick<Step, "only" | "because" | "knowingly">> = {},
): Step => ({ id, does, test: { state, observe: { kind: "volts", red, black } }, good, ...more });

/** A step of any other kind. */
export const see = (
  id: string,
  does: string,
  state: VehicleState,
  observe: Observable,
  good: Good,
  more: Partial<Pick<Step, "only" | "because" | "knowingly">> = {},
): Step => ({ id, does, test: { state, observe }, good, ...more });

export const AS_SOUND: Good = { kind: "as sound" };
export const ENOUGH_VOLTS: Good = { kind: "at least sound" };
/** Good when the drop is within the rule set's limit for such a path. */
export const drop = (path: PathKind): Good => ({ kind: "drop", path });
/** Good when the answer is one of these. */
export const word = (...words: ResultWord[]): Good => ({ kind: "word", words });

/** The option that was chosen, or the usual one. */
export const optionOf = (choice: Choice, { chosen }: Setting): string =>
  choice.options.some((o) => o.id === chosen[choice.id]) ? chosen[choice.id]! : choice.usual;
