import { deviceKind, filament, fuseOhms, ntcCelsius, restCharge, wireOhms, leastUnderLoad } from "../devices/index.ts";
import { linkOf, lookupOf, partNameIn, type Harness, type Link } from "../harness/index.ts";
import type { Leads, Prediction } from "../instruments/index.ts";
import { amps, celsius, formatAmps, formatOhms, formatVolts, metres, squareMillimetres, volts } from "../quantity/index.ts";
import { DETOUR } from "./find-or-overlay.ts";
import { areaFor, awgFor, pieceOhms } from "./wire-size.ts";

export type WorkUnit = "V" | "mV" | "A" | "Ω" | "W" | "°C" | "%" | "m";

/** Something that goes into a calculation, and where its number came from; without a value where nobody knows it yet. */
export interface Known {
  readonly id: string;
  readonly words: string;
  readonly unit: WorkUnit;
  readonly value: number | undefined;
  readonly from: string;
}

/** What a calculation comes to. */
export interface Worked {
  /** With its unit, in words. */
  readonly lines: readonly string[];
  /** What a meter or clamp would have shown: it can go into the circuit as a reading. */
  readonly gives?: { readonly leads: Leads; readonly value: number };
}

/** A calculation that begins from something of the circuit. */
export interface WorkOut {
  readonly id: string;
  readonly title: string;
  readonly formula: string;
  readonly known: readonly Known[];
  /** A sentence where the values cannot be; undefined while one is missing. */
  readonly work: (values: Readonly<Record<string, number | undefined>>) => Worked | string | undefined;
}

/** What was measured in the present state, V and A with where it came from. */
export interface Facts {
  readonly across: (red: string, black: string) => { readonly value: number; readonly from: string } | undefined;
  readonly amps: (around: string) => { readonly value: number; readonly from: string } | undefined;
}

export interface WorkOutContext {
  readonly harness: Harness;
  readonly facts: Facts;
  readonly sound: Prediction | undefined;
  readonly temperatureC: number;
}

/** What can be worked out of a link, a part or a place; nothing where there is nothing known about it. */
export function workOutsFor(of: WorkOutContext, selected: string): readonly WorkOut[] {
  const link = linkOf(of.harness, selected);
  const part = lookupOf(of.harness).parts.get(partNameIn(selected));
  const found: (WorkOut | undefined)[] = [];
  if (link !== undefined) {
    if (part?.kind === "fuse") found.push(fuseCurrent(of, link, part.ratingAmps));
    else found.push(dropAndCurrent(of, link));
    const wire = lookupOf(of.harness).wires.get(link.id);
    if (wire !== undefined) {
      found.push(cableCurrent(of, link, wire.areaMm2, wire.lengthM), seriesLamp(of, link), overlay(of, link, wire.areaMm2, wire.lengthM));
    }
  }
  if (part?.kind === "battery") found.push(batteryState(of, part.id));
  if (part?.kind === "device" && part.device === "ntc") found.push(thermistor(of, part.id), behindPullUp(of, part.id));
  if (link === undefined && part?.kind === "device" && part.device === "module") found.push(dutyOf(of, selected));
  return found.filter((f) => f !== undefined);
}

/** All of them are there, and none is negative where it cannot be. */
const given = <K extends string>(
  values: Readonly<Record<string, number | undefined>>,
  ...ids: readonly K[]
): Readonly<Record<K, number>> | undefined =>
  ids.every((id) => values[id] !== undefined && Number.isFinite(values[id])) ? (values as Readonly<Record<K, number>>) : undefined;
const fromModel = (what: string): string => `${what}, by the model`;
const round = (value: number, digits: number): number => Number(value.toPrecision(digits));

/** Drop, current and resistance of anything: the third follows from two. */
function dropAndCurrent({ facts, sound }: WorkOutContext, link: Link): WorkOut {
  const drop = facts.across(link.a, link.b);
  const clamp = facts.amps(link.id);
  const model = sound?.amps.get(link.id);
  return {
    id: "drop",
    title: `Resistance of ${link.id} from its drop`,
    formula: "R = U / I",
    known: [
      {
        id: "u",
        words: "Drop across it",
        unit: "V",
        value: drop === undefined ? undefined : Math.abs(drop.value),
        from: drop?.from ?? "not measured yet",
      },
      {
        id: "i",
        words: "Current through it",
        unit: "A",
        value: clamp !== undefined ? Math.abs(clamp.value) : model === undefined ? undefined : round(Math.abs(model), 3),
        from: clamp?.from ?? fromModel("of a good circuit"),
      },
    ],
    work: (values) => {
      const v = given(values, "u", "i");
      if (v === undefined) return undefined;
      if (v.i === 0) return "Without current nothing drops: switch the load on.";
      return { lines: [formatOhms(Math.abs(v.u / v.i)), `${formatVolts(Math.abs(v.u))} / ${formatAmps(Math.abs(v.i))}`] };
    },
  };
}

interface Shunt {
  readonly id: string;
  readonly title: string;
  readonly formula: string;
  readonly acrossWords: string;
  readonly ohms: number;
  /** Where its resistance comes from. */
  readonly from: string;
  readonly beside: (amps: number) => readonly string[];
}

/** What carries a current and has a known resistance tells the current by its drop. */
function shuntCurrent({ facts }: WorkOutContext, link: Link, { id, title, formula, acrossWords, ohms, from, beside }: Shunt): WorkOut {
  const drop = facts.across(link.a, link.b);
  return {
    id,
    title,
    formula,
    known: [
      {
        id: "u",
        words: acrossWords,
        unit: "mV",
        value: drop === undefined ? undefined : round(Math.abs(drop.value) * 1e3, 4),
        from: drop?.from ?? "not measured yet",
      },
      { id: "r", words: "Its resistance", unit: "Ω", value: round(ohms, 3), from },
    ],
    work: (values) => {
      const v = given(values, "u", "r");
      if (v === undefined) return undefined;
      if (v.r <= 0) return "A resistance is above 0.";
      const value = v.u / 1e3 / v.r;
      return { lines: [formatAmps(value), ...beside(value)], gives: { leads: { quantity: "amps", around: link.id }, value } };
    },
  };
}

/** Also for what no clamp goes around, and for a starter. */
const cableCurrent = (of: WorkOutContext, link: Link, areaMm2: number, lengthM: number): WorkOut =>
  shuntCurrent(of, link, {
    id: "cable",
    title: `Current in ${link.id} from its drop`,
    formula: "I = U / R, R = ρ · length / area",
    acrossWords: "Drop across it",
    ohms: wireOhms(squareMillimetres(areaMm2), metres(lengthM), celsius(of.temperatureC)),
    from: `${areaMm2} mm², ${lengthM} m of copper at ${Math.round(of.temperatureC)} °C, without its terminals`,
    beside: () => ["Good joints alone: one that is bad looks like more current."],
  });

const fuseCurrent = (of: WorkOutContext, link: Link, ratingAmps: number): WorkOut =>
  shuntCurrent(of, link, {
    id: "fuse",
    title: `Current through ${link.id} from its millivolts`,
    formula: "I = U / R",
    acrossWords: "Across the fuse",
    ohms: fuseOhms(amps(ratingAmps)),
    from: `blade fuse of ${ratingAmps} A, cold; makers differ by some 15 %`,
    beside: (value) => (value > ratingAmps ? [`More than its ${ratingAmps} A: it will not hold.`] : []),
  });

/** A lamp in series with a wire that was taken off at both ends: what is left for the lamp tells what the wire takes. */
function seriesLamp({ harness }: WorkOutContext, link: Link): WorkOut {
  const nominal = volts(harness.nominalVolts);
  return {
    id: "lamp",
    title: `Ohms of ${link.id} with a lamp in series`,
    formula: "I = I at nominal · (U lamp / U nominal)^0.55, R = (U supply − U lamp) / I",
    known: [
      { id: "w", words: "Lamp", unit: "W", value: 21, from: `a lamp of 21 W at ${harness.nominalVolts} V in series` },
      { id: "s", words: "Supply", unit: "V", value: undefined, from: "read at the battery" },
      { id: "l", words: "Across the lamp", unit: "V", value: undefined, from: "read at the lamp, with the wire off at both ends" },
    ],
    work: (values) => {
      const v = given(values, "w", "s", "l");
      if (v === undefined) return undefined;
      if (v.w <= 0 || v.s <= 0) return "Watts and supply are above 0.";
      if (v.l > v.s) return "The lamp cannot have more than the supply: read again.";
      if (v.l <= 0) return { lines: ["Open: nothing gets through."] };
      const shape = filament({ sort: "lamp", rating: { watts: v.w } }, nominal);
      const current = shape.at(v.l).amps;
      const value = (v.s - v.l) / current;
      return {
        lines: [formatOhms(value), `${formatAmps(current)} flow`],
        gives: { leads: { quantity: "ohms", red: link.a, black: link.b }, value },
      };
    },
  };
}

/** A new wire beside an old one. */
function overlay({ sound }: WorkOutContext, link: Link, areaMm2: number, lengthM: number): WorkOut {
  const model = sound?.amps.get(link.id);
  return {
    id: "overlay",
    title: `A new wire in place of ${link.id}`,
    formula: "area by what it carries warm; drop = I · (ρ · length / area + two joints)",
    known: [
      {
        id: "i",
        words: "Current",
        unit: "A",
        value: model === undefined ? undefined : round(Math.abs(model), 3),
        from: fromModel("of a good circuit in this state"),
      },
      {
        id: "m",
        words: "Length",
        unit: "m",
        value: round(lengthM * DETOUR, 3),
        from: `${lengthM} m and ${Math.round(100 * (DETOUR - 1))} % for its way round`,
      },
    ],
    work: (values) => {
      const v = given(values, "i", "m");
      if (v === undefined) return undefined;
      if (v.i < 0 || v.m <= 0) return "Current and length are above 0.";
      const area = areaFor(v.i);
      if (area === undefined) return "More than any of these wires carries.";
      // Never thinner than what the maker laid.
      const chosen = Math.max(area, areaMm2);
      const awg = awgFor(chosen);
      return {
        lines: [
          `${chosen} mm²${awg === undefined ? "" : `, or ${awg} AWG`}${chosen > area ? ", as it was" : ""}`,
          `drops ${formatVolts(v.i * pieceOhms(chosen, v.m, 2))} at ${formatAmps(v.i)}; the fuse stays what it is`,
        ],
      };
    },
  };
}

function batteryState({ harness, facts, temperatureC }: WorkOutContext, id: string): WorkOut {
  const { nominalVolts } = harness;
  const read = facts.across(`${id}.+`, `${id}.-`);
  return {
    id: "battery",
    title: "Charge of the battery from its rest volts",
    formula: "table of flooded lead–acid at 25 °C, straight between its points",
    known: [
      {
        id: "u",
        words: "At rest",
        unit: "V",
        value: read?.value,
        from: read?.from ?? "after an hour without load or charger, surface charge off",
      },
      { id: "t", words: "Battery at", unit: "°C", value: temperatureC, from: "the state of the vehicle" },
    ],
    work: (values) => {
      const v = given(values, "u", "t");
      if (v === undefined) return undefined;
      const of12 = (v.u * 12) / nominalVolts;
      if (of12 < 1 || of12 > 16) return "That is no battery at rest.";
      const least = (leastUnderLoad(v.t) * nominalVolts) / 12;
      const charge = restCharge(of12);
      return {
        lines: [
          of12 > 12.9
            ? "Above full: surface charge, or a charger is on. Load it for a moment and wait."
            : `${Math.round(100 * charge)} % charged`,
          `at ${Math.round(v.t)} °C it must keep ${formatVolts(least)} after 15 s at half its cold-cranking current`,
        ],
      };
    },
  };
}

/** Settings of a sensor as the harness has them. */
function sensorOf(harness: Harness, id: string): { readonly ohmsAt25: number; readonly betaK: number } {
  const part = lookupOf(harness).parts.get(id);
  const read = part?.kind === "device" ? deviceKind("ntc")?.settings.safeParse(part.settings) : undefined;
  return read?.success === true ? (read.data as { ohmsAt25: number; betaK: number }) : { ohmsAt25: 2200, betaK: 3900 };
}

function thermistor({ harness }: WorkOutContext, id: string): WorkOut {
  const { ohmsAt25, betaK } = sensorOf(harness, id);
  return {
    id: "ntc",
    title: `Temperature of ${id} from its ohms`,
    formula: "1/T = 1/298 K + ln(R / R25) / β",
    known: [
      { id: "r", words: "Its ohms", unit: "Ω", value: undefined, from: "read with its plug off" },
      { id: "r25", words: "At 25 °C", unit: "Ω", value: ohmsAt25, from: `the diagram; β ${betaK} K` },
    ],
    work: (values) => {
      const v = given(values, "r", "r25");
      if (v === undefined) return undefined;
      if (v.r <= 0 || v.r25 <= 0) return "Ohms are above 0; 0 is a short, OL is open.";
      return { lines: [`${ntcCelsius(v.r25, betaK, v.r).toFixed(1)} °C`] };
    },
  };
}

/** A sensor behind a pull-up: its ohms, and with them its temperature, from the volts at its signal. */
function behindPullUp({ harness, facts }: WorkOutContext, id: string): WorkOut {
  const { ohmsAt25, betaK } = sensorOf(harness, id);
  const read = facts.across(`${id}.1`, `${id}.2`);
  return {
    id: "divider",
    title: `${id} behind its pull-up`,
    formula: "R = R pull-up · U / (U reference − U)",
    known: [
      { id: "u", words: "Across it", unit: "V", value: read?.value, from: read?.from ?? "signal against its own ground, plugged in" },
      { id: "ref", words: "Reference", unit: "V", value: 5, from: "usual" },
      { id: "p", words: "Pull-up", unit: "Ω", value: 2200, from: "usual: 1 to 5 kΩ" },
    ],
    work: (values) => {
      const v = given(values, "u", "ref", "p");
      if (v === undefined) return undefined;
      if (v.ref <= 0 || v.p <= 0) return "Reference and pull-up are above 0.";
      if (v.u >= 0.98 * v.ref) return { lines: ["Open: nothing pulls the signal down."] };
      if (v.u <= 0.02 * v.ref) return { lines: ["Short to ground: the signal is held down."] };
      const r = (v.p * v.u) / (v.ref - v.u);
      return { lines: [formatOhms(r), `${ntcCelsius(ohmsAt25, betaK, r).toFixed(1)} °C by its curve`] };
    },
  };
}

/** A meter shows the mean of pulses. */
function dutyOf({ harness, facts }: WorkOutContext, place: string): WorkOut {
  const minus = harness.components.find((c) => c.kind === "battery")?.id;
  const read = minus === undefined ? undefined : facts.across(place, `${minus}.-`);
  return {
    id: "duty",
    title: `Duty at ${place} from a meter's mean`,
    formula: "duty = (mean − low) / (high − low)",
    known: [
      { id: "m", words: "Mean", unit: "V", value: read?.value, from: read?.from ?? "read on DC volts" },
      { id: "h", words: "High level", unit: "V", value: harness.nominalVolts, from: "nominal; better off a scope" },
      { id: "l", words: "Low level", unit: "V", value: 0, from: "a driver that reaches ground" },
    ],
    work: (values) => {
      const v = given(values, "m", "h", "l");
      if (v === undefined) return undefined;
      if (v.h <= v.l) return "The high level is above the low one.";
      const duty = (v.m - v.l) / (v.h - v.l);
      if (duty < -0.02 || duty > 1.02) return "The mean lies outside of both levels: one of the three is wrong.";
      return {
        lines: [
          `${Math.round(100 * Math.min(1, Math.max(0, duty)))} % high, ${Math.round(100 - 100 * Math.min(1, Math.max(0, duty)))} % low`,
        ],
      };
    },
  };
}
