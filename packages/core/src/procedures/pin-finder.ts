import { phasesOf, REST_STATE, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { predictAll } from "../instruments/index.ts";
import { parseNotation } from "../notation/index.ts";
import { PIN_KINDS, type PinKindGuess } from "./pin-candidates.ts";

/** The three moments in which pins are read, plugged in, against battery negative. */
export const MOMENTS = ["key off", "key on", "engine turning"] as const;
export type Moment = (typeof MOMENTS)[number];

/** What a meter shows at a pin: a steady voltage, V, or one that fluctuates. */
export type PinReading = { readonly kind: "steady"; readonly volts: number } | { readonly kind: "toggles" };

/** Readings by pin number from 0; a moment that is missing was not read. */
export type PinReadings = readonly Partial<Readonly<Record<Moment, PinReading>>>[];

/** One way in which the pins can be what they are. */
export interface Assignment {
  readonly candidate: PinKindGuess;
  /** What each typed pin is, in the order typed. */
  readonly roles: readonly string[];
  /** Pin of the candidate by typed pin. */
  readonly order: readonly number[];
  /** Share of the belief, 0…1. */
  readonly share: number;
}

export interface PinAnswer {
  /** Best first; those with less than a fiftieth of the best are left out. */
  readonly likely: readonly Assignment[];
  /** `known`: one stands far above the rest; `open`: readings are missing that tell; `stop`: nothing fits or nothing more can tell. */
  readonly verdict: "known" | "open" | "stop";
  readonly words: string;
  /** The reading that tells most. */
  readonly next: { readonly pin: number; readonly moment: Moment } | undefined;
}

/** What a pin may show, V, over all conditions that a sound device can be in. */
interface Expected {
  readonly low: number;
  readonly high: number;
  readonly toggles: boolean;
}

/** Effort of a reading against the easiest; an engine has to be started, and leads kept clear of it. */
const EFFORT: Readonly<Record<Moment, number>> = { "key off": 1, "key on": 1, "engine turning": 4 };

const STATES: Readonly<Record<Moment, VehicleState>> = {
  "key off": REST_STATE,
  "key on": { ...REST_STATE, key: "run" },
  "engine turning": { ...REST_STATE, key: "run", engine: "idling" },
};
/** A pin that moves by more than this between the moments of its pulses fluctuates, V. */
const TOGGLE_VOLTS = 1;
/** Doubt of a reading: part of it and a floor, V. Batteries stand between 11.8 and 14.8 V, references between 4.8 and 5.2 V. */
const DOUBT_SHARE = 0.06;
const DOUBT_VOLTS = 0.15;
/** The most that one reading can speak against a candidate: readings are sometimes wrong. */
const MOST_AGAINST = 9;

const tables = new Map<string, readonly Readonly<Record<Moment, Expected>>[]>();

/** What a sound device of this kind shows, from the circuit model. By pin of the candidate. */
export function expectedOf(candidate: PinKindGuess): readonly Readonly<Record<Moment, Expected>>[] {
  const known = tables.get(candidate.id);
  if (known !== undefined) return known;
  const harness = harnessOf(candidate);
  const made = candidate.pins.map(({ place }) => {
    const by = MOMENTS.map((m) => [m, expect(harness, candidate, place, STATES[m])] as const);
    return Object.fromEntries(by) as Record<Moment, Expected>;
  });
  tables.set(candidate.id, made);
  return made;
}

/** The circuit of a candidate device on its own. Throws RangeError when its notation cannot be read. */
export function harnessOf(candidate: PinKindGuess): Harness {
  const { harness, problems } = parseNotation(`circuit "${candidate.words}"\n${candidate.notation}`);
  if (harness === undefined) throw new RangeError(`candidate ${candidate.id}: ${problems.map((p) => p.message).join("; ")}`);
  return harness;
}

function expect(harness: Harness, candidate: PinKindGuess, place: string, base: VehicleState): Expected {
  const sets = candidate.switches.reduce<string[][]>((all, s) => [...all, ...all.map((x) => [...x, s])], [[]]);
  let [low, high, toggles] = [Infinity, -Infinity, false];
  for (const inputs of base.engine === "stopped" ? candidate.inputs : (candidate.turning ?? candidate.inputs))
    for (const on of sets) {
      const state = { ...base, on, inputs: { ...inputs } };
      const mean = predictAll(harness, state, []);
      if (!("volts" in mean)) continue;
      const v = mean.volts.get(place) ?? 0;
      [low, high] = [Math.min(low, v), Math.max(high, v)];
      const moments = phasesOf(harness, state).flatMap(({ at: phase }) => {
        const then = predictAll(harness, state, [], { phase });
        return "volts" in then ? [then.volts.get(place) ?? 0] : [];
      });
      if (Math.max(...moments) - Math.min(...moments) > TOGGLE_VOLTS) toggles = true;
    }
  return { low, high, toggles };
}

/** How much a reading speaks against what is expected, in nats; 0 when it is as expected. */
function against(reading: PinReading, e: Expected): number {
  if (reading.kind === "toggles") return e.toggles ? 0 : MOST_AGAINST;
  const off = Math.max(0, e.low - reading.volts, reading.volts - e.high);
  const doubt = DOUBT_VOLTS + DOUBT_SHARE * Math.max(Math.abs(reading.volts), Math.abs(e.high));
  // A wide expectation explains a reading less well than a narrow one.
  const width = Math.log1p((e.high - e.low) / (2 * doubt));
  return Math.min(MOST_AGAINST, (off / doubt) ** 2 / 2 + width + (e.toggles ? 1.5 : 0));
}

function permutations(n: number): number[][] {
  if (n === 0) return [[]];
  return permutations(n - 1).flatMap((p) => Array.from({ length: n }, (_, at) => [...p.slice(0, at), n - 1, ...p.slice(at)]));
}

/**
 * Tells what stands behind a plug of two to five pins from readings in three moments. Throws RangeError for another number of
 * pins. Two pins of the same role are told together.
 */
export function findPins(readings: PinReadings): PinAnswer {
  const n = readings.length;
  if (n < 2 || n > 5) throw new RangeError(`${n} pins: two to five can be told apart this way`);
  const all: { candidate: PinKindGuess; order: number[]; cost: number; prior: number }[] = [];
  for (const candidate of PIN_KINDS) {
    if (candidate.pins.length !== n) continue;
    const expected = expectedOf(candidate);
    const orders = permutations(n);
    for (const order of orders) {
      let cost = 0;
      for (let pin = 0; pin < n; pin++)
        for (const m of MOMENTS) {
          const r = readings[pin]![m];
          if (r !== undefined) cost += against(r, expected[order[pin]!]![m]);
        }
      all.push({ candidate, order, cost, prior: candidate.usual / orders.length });
    }
  }
  const least = Math.min(...all.map((a) => a.cost));
  const weight = (a: (typeof all)[number]): number => a.prior * Math.exp(least - a.cost);
  const sum = all.reduce((s, a) => s + weight(a), 0);
  // Assignments that say the same of every pin are one answer.
  const merged = new Map<string, { candidate: PinKindGuess; order: number[]; share: number }>();
  for (const a of all) {
    const roles = a.order.map((k) => a.candidate.pins[k]!.role.replace(/, other end$/, "")).join("|");
    const key = `${a.candidate.id}|${roles}`;
    const before = merged.get(key);
    if (before === undefined) merged.set(key, { candidate: a.candidate, order: a.order, share: weight(a) / sum });
    else before.share += weight(a) / sum;
  }
  const ranked = [...merged.values()].sort((p, q) => q.share - p.share);
  const likely = ranked
    .filter((a) => a.share > ranked[0]!.share / 50)
    .slice(0, 8)
    .map((a) => ({ ...a, roles: a.order.map((k) => a.candidate.pins[k]!.role) }));
  const count = readings.reduce((s, r) => s + Object.keys(r).length, 0);
  const perReading = count === 0 ? 0 : least / count;
  const next = nextReading(readings, likely);
  const best = likely[0]!;
  if (perReading > 2.2)
    return {
      likely,
      next: undefined,
      verdict: "stop",
      words: "No usual device shows these readings. Stop here and get the diagram before anything is fed or bridged.",
    };
  if (best.share > 0.9 && count >= n)
    return {
      likely,
      next,
      verdict: "known",
      words: `Most likely a ${best.candidate.words}. Before power is applied to any pin, confirm with the diagram.`,
    };
  if (next !== undefined)
    return { likely, next, verdict: "open", words: `Read pin ${next.pin + 1} with ${next.moment}: that tells the most of what is left.` };
  return {
    likely,
    next: undefined,
    verdict: "stop",
    words: `These readings cannot tell ${[...new Set(likely.slice(0, 3).map((l) => l.candidate.words))].join(" from ")} any further. Get the diagram, or unplug it and look at the part.`,
  };
}

/** The missing reading whose outcome differs most between the likely answers; undefined when none would tell. */
function nextReading(readings: PinReadings, likely: readonly Assignment[]): PinAnswer["next"] {
  let best: { pin: number; moment: Moment; worth: number } | undefined;
  for (let pin = 0; pin < readings.length; pin++)
    for (const moment of MOMENTS) {
      if (readings[pin]![moment] !== undefined) continue;
      let spread = 0;
      for (const [i, p] of likely.entries())
        for (const q of likely.slice(i + 1)) {
          const a = expectedOf(p.candidate)[p.order[pin]!]![moment];
          const b = expectedOf(q.candidate)[q.order[pin]!]![moment];
          const apart = Math.max(0, Math.max(a.low, b.low) - Math.min(a.high, b.high));
          spread += p.share * q.share * (a.toggles !== b.toggles ? 1 : Math.min(1, apart / 1));
        }
      const worth = spread / EFFORT[moment];
      if (spread > 0.005 && (best === undefined || worth > best.worth + 1e-9)) best = { pin, moment, worth };
    }
  return best === undefined ? undefined : { pin: best.pin, moment: best.moment };
}

/** The answer as a circuit to go on with, its pins named as on the plug. `plug`: pin names as typed. */
export function circuitOf(answer: Assignment, name: string, plug: readonly string[]): string {
  const pins = answer.order.map((k, i) => `# pin ${plug[i] ?? i + 1}: ${answer.roles[i]} (${answer.candidate.pins[k]!.place})`);
  const lines = [
    `circuit "${name.replace(/["\n\r]/g, " ").trim() || answer.candidate.words}"`,
    "# Found by readings at the plug, not from a diagram: lengths, areas and colours are guesses.",
    ...pins,
    answer.candidate.notation,
  ];
  return lines.join("\n") + "\n";
}
