import type { Fault, VehicleState } from "../../circuit/index.ts";
import { moduleGround, pinPlace, type Harness } from "../../harness/index.ts";
import {
  awakeModules,
  isCodeSet,
  observe,
  predictPulses,
  predictReading,
  predictShown,
  silentModules,
  type Leads,
} from "../../instruments/index.ts";
import type { Result } from "../evidence/evidence.ts";
import { isScale } from "../evidence/kind.ts";
import { kindOf, type Observable, type ResultWord } from "../evidence/kinds/index.ts";
import { wordShares } from "../evidence/likelihood.ts";
import { exactly } from "../evidence/predicted.ts";
import { observedWork } from "./observed-work.ts";
import type { Test } from "./oracle.ts";

/** A reading that moves by less stands still to the eye, V or A. */
const SEEN_SWING = 0.3;

/** Value of the last digit that a meter of 6000 counts shows, V, A or Ω. */
export const stepOf = (v: number): number => (Math.abs(v) < 0.6 ? 1e-4 : Math.abs(v) < 6 ? 1e-3 : Math.abs(v) < 60 ? 1e-2 : 0.1);
/** A number (V, A or Ω) in the steps that its display has. */
export const rounded = (v: number): number => Math.round(v / stepOf(v)) * stepOf(v);

type Shown<K extends Observable["kind"]> = (
  harness: Harness,
  state: VehicleState,
  o: Extract<Observable, { kind: K }>,
  faults: readonly Fault[],
) => Result;

const word = (w: string): Result => ({ kind: "word", word: w as ResultWord });

function onMeter(harness: Harness, state: VehicleState, leads: Leads, faults: readonly Fault[]): Result {
  const reading = predictReading(harness, state, faults, leads);
  switch (reading.kind) {
    case "over":
      return { kind: "over" };
    case "unsolved": {
      const [low, high] = reading.between ?? [0, 0];
      if (high - low > SEEN_SWING) return { kind: "swings", low: rounded(low), high: rounded(high) };
      return { kind: "value", value: rounded((low + high) / 2), resolution: stepOf(low) };
    }
    case "void": {
      // On ohms between points that are live no number stands: whoever measures sees the volts and not a resistance.
      const live =
        leads.quantity === "ohms" && reading.why === "live"
          ? predictReading(harness, state, faults, { ...leads, quantity: "volts" })
          : undefined;
      if (live?.kind !== "value") return { kind: "value", value: 0 };
      return { kind: "swings", low: rounded(live.value), high: rounded(live.value) };
    }
    case "value":
      return { kind: "value", value: reading.value };
  }
}

const onScope = (value: number | undefined): Result =>
  value === undefined ? { kind: "over" } : { kind: "value", value: rounded(value), resolution: stepOf(value) };

/** What the circuit decides, by kind of evidence; everything else is as on a sound vehicle. */
const SHOWN: { readonly [K in Observable["kind"]]?: Shown<K> } = {
  volts: (harness, state, o, faults) =>
    onMeter(harness, state, { quantity: "volts", red: o.red, black: o.black, inputOhms: o.inputOhms }, faults),
  level: (harness, state, o, faults) => onScope(predictPulses(harness, state, faults, o.red, o.black)?.[o.which]),
  duty: (harness, state, o, faults) => onScope(predictPulses(harness, state, faults, o.red, o.black)?.dutyPercent),
  ohms: (harness, state, o, faults) => onMeter(harness, state, { quantity: "ohms", red: o.red, black: o.black }, faults),
  amps: (harness, state, o, faults) => onMeter(harness, state, { quantity: "amps", around: o.around }, faults),
  lamp: (harness, state, o, faults) => {
    const watts = o.watts === 5 ? 5 : 21;
    const shown = predictShown(harness, state, faults, { instrument: "lamp", red: o.red, black: o.black, watts });
    return word(shown.kind === "light" ? shown.look : "dark");
  },
  continuity: (harness, state, o, faults) => {
    const shown = predictShown(harness, state, faults, { instrument: "continuity", red: o.red, black: o.black });
    return word(shown.kind === "beep" && shown.beeps ? "beeps" : "silent");
  },
  part: (harness, state, o, faults) => {
    const work = observedWork(harness, observe(harness, state, faults), observe(harness, state, []), o.part);
    const shares = wordShares(o, {
      ...exactly(work.share),
      isUnasked: work.isUnasked,
      ...(work.oscillating ? { oscillating: true } : {}),
    });
    return word(Object.entries(shares).reduce((p, q) => (q[1] > p[1] ? q : p))[0]);
  },
  fuse: (harness, state, o, faults) => {
    const seen = observe(
      harness,
      state,
      faults.filter((f) => !("link" in f) || f.link !== o.at),
    );
    const isBlown = Array.isArray(seen) && seen.some((x) => x.component === o.at && x.sight.kind === "fuse" && x.sight.blown);
    return word(isBlown ? "blew at once" : "holds");
  },
  answers: (harness, state, o, faults) => {
    return word(
      awakeModules(harness, state, faults).has(o.module) && !silentModules(harness, state, faults).includes(o.module) ? "yes" : "no",
    );
  },
  code: (harness, state, o, faults) => word(isCodeSet(harness, state, o.code, faults) ? "active" : "absent"),
  // A module that is asleep tells no value.
  live: (harness, state, o, faults) =>
    awakeModules(harness, state, faults).has(o.module)
      ? onMeter(harness, state, { quantity: "volts", red: pinPlace(o.module, o.pin), black: moduleGround(o.module) }, faults)
      : { kind: "over" },
};

/**
 * What a test shows on a vehicle with these faults, exactly and solved in full. Looks, swaps and wiggles are those of a sound vehicle: they show no circuit, and a fault does not
 * say how it looks.
 */
export function shownBy(harness: Harness, { state, observe: o }: Test, faults: readonly Fault[]): Result {
  const shown = SHOWN[o.kind] as Shown<typeof o.kind> | undefined;
  if (shown !== undefined) return shown(harness, state, o as never, faults);
  const { read } = kindOf(o);
  return isScale(read) ? { kind: "value", value: 0 } : word(read.sound ?? read.words.at(-1)!);
}
