import { z } from "zod";
import { ENGINE_STATES } from "./conditions.ts";
import { type DeviceKind, type FailureMode, type Inside, NO_DEGREE, type Sight, type Surroundings } from "./device.ts";
import { pinKindOf, pinSettings } from "./pins/index.ts";
import { positive } from "./settings.ts";
import { all, ALWAYS, any, NEVER, not, type Stamp } from "./stamp.ts";
import type { Rule } from "../solver/index.ts";

const pinName = z.string().regex(/^[A-Za-z0-9_]{1,12}$/);

/** When an output is wanted: declarative, no code. Voltages are those at the pin against the module's own ground. */
export type Condition =
  | { readonly pin: string; readonly above: number }
  | { readonly pin: string; readonly below: number }
  /** Pulses stand at the pin. */
  | { readonly pulsed: string }
  | { readonly key: readonly ("off" | "accessory" | "run" | "crank")[] }
  | { readonly engine: readonly (typeof ENGINE_STATES)[number][] }
  /** Told from outside by the state's input of the module: a command by bus or by a scan tool. */
  | { readonly inputAbove: number }
  | { readonly all: readonly Condition[] }
  | { readonly any: readonly Condition[] }
  | { readonly not: Condition };

const condition: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    z.strictObject({ pin: pinName, above: z.number().finite() }),
    z.strictObject({ pin: pinName, below: z.number().finite() }),
    z.strictObject({ pulsed: pinName }),
    z.strictObject({ key: z.array(z.enum(["off", "accessory", "run", "crank"])) }),
    z.strictObject({ engine: z.array(z.enum(ENGINE_STATES)) }),
    z.strictObject({ inputAbove: z.number().finite() }),
    z.strictObject({ all: z.array(condition).max(20) }),
    z.strictObject({ any: z.array(condition).max(20) }),
    z.strictObject({ not: condition }),
  ]),
);

const settings = z
  .strictObject({
    pins: z.record(pinName, pinSettings).default({ B: { sort: "supply" }, E: { sort: "ground", forSensors: false } }),
    /** An output is on while its rule holds and the module is awake; without a rule it stays off. */
    rules: z
      .array(z.strictObject({ pin: pinName, when: condition }))
      .max(100)
      .default([]),
    /** Supply at which it wakes, and below which it resets, V (12 V systems; doubled for 24 V). */
    wakeVolts: positive.default(6.5),
    resetVolts: positive.default(5.5),
    awakeAmps: positive.default(0.2),
    asleepAmps: positive.default(0.001),
    dead: z.boolean().default(false),
    /** Pins at which pulses are waited for and nothing is told. */
    untold: z.array(pinName).max(40).default([]),
  })
  .superRefine((s, context) => {
    if (s.resetVolts > s.wakeVolts) context.addIssue({ code: "custom", message: "resetVolts is above wakeVolts", path: ["resetVolts"] });
    for (const [i, r] of s.rules.entries()) {
      const sort = s.pins[r.pin]?.sort;
      if (sort !== "low" && sort !== "high")
        context.addIssue({ code: "custom", message: `${r.pin} is not an output`, path: ["rules", i, "pin"] });
      for (const pin of pinsOf(r.when))
        if (s.pins[pin] === undefined) context.addIssue({ code: "custom", message: `there is no pin ${pin}`, path: ["rules", i, "when"] });
    }
    for (const [pin, p] of Object.entries(s.pins))
      if ("follows" in p && p.follows !== undefined && s.pins[p.follows] === undefined)
        context.addIssue({ code: "custom", message: `there is no pin ${p.follows}`, path: ["pins", pin, "follows"] });
    for (const sort of ["supply", "ground"])
      if (!Object.values(s.pins).some((p) => p.sort === sort))
        context.addIssue({ code: "custom", message: `no pin is a ${sort}`, path: ["pins"] });
  });
export type ModuleSettings = z.infer<typeof settings>;
type Settings = ModuleSettings;

/** Memory of a comparison: it lets go when the voltage has come back by this much, V. */
const HYSTERESIS_VOLTS = 0.1;

/** The single terms of a condition. */
const termsOf = (c: Condition): readonly Condition[] =>
  "all" in c ? c.all.flatMap(termsOf) : "any" in c ? c.any.flatMap(termsOf) : "not" in c ? termsOf(c.not) : [c];

const pulsedIn = (c: Condition): readonly string[] => termsOf(c).flatMap((t) => ("pulsed" in t ? [t.pulsed] : []));
const pinsOf = (c: Condition): readonly string[] => [...termsOf(c).flatMap((t) => ("pin" in t ? [t.pin] : [])), ...pulsedIn(c)];

/** CAN high and low pins in pairs, in the order in which they are written. */
function canPairsOf({ pins }: Settings): readonly (readonly [high: string, low: string])[] {
  const of = (sort: string): string[] => Object.entries(pins).flatMap(([pin, p]) => (p.sort === sort ? [pin] : []));
  const lows = of("can low");
  return of("can high").flatMap((high, i) => (lows[i] === undefined ? [] : [[high, lows[i]] as const]));
}

/** Levels between which pulses at a pin count, V against the module's ground. */
const PULSES_ABOVE = 3;
const PULSES_BELOW = 1.5;

const firstOf = (s: Settings, sort: string): string => Object.entries(s.pins).find(([, p]) => p.sort === sort)![0];

/**
 * Electronic module: pins of given sorts around a feed, a ground and rules. Awake while its feed is above the reset voltage and the state does not say asleep. It
 * draws a current like a resistance. Rules are looked at again and again together with relays and solenoids until all rest: a starter's dip that resets the
 * module that commands it shows as chatter. No delays, no retries.
 */
export const electronicModule: DeviceKind<Settings> = {
  kind: "module",
  family: "module",
  words: "module",
  settings,
  terminals: (s) => Object.entries(s.pins).map(([name, p]) => ({ name, role: pinKindOf(p).role })),
  ways: (s) => {
    const [feed, earth] = [firstOf(s, "supply"), firstOf(s, "ground")];
    return [
      { part: "electronics", a: feed, b: earth, consumes: true },
      ...Object.entries(s.pins).flatMap(([name, p]) => {
        if (p.sort === "supply" && name !== feed) return [{ part: `${name} track`, a: name, b: feed, consumes: false }];
        if (p.sort === "ground" && name !== earth) return [{ part: `${name} track`, a: name, b: earth, consumes: false }];
        if (p.sort === "low") return [{ part: `${name} driver`, a: name, b: earth, consumes: false }];
        if (p.sort === "high") return [{ part: `${name} driver`, a: feed, b: name, consumes: false }];
        return p.sort === "reference" ? [{ part: `${name} gate`, a: feed, b: name, consumes: false }] : [];
      }),
    ];
  },
  stamp: (s, at, into) => {
    const scale = at.nominalVolts / 12;
    const fed = into.watcher(".supply", ".ground", s.wakeVolts * scale, s.resetVolts * scale, { paceUp: "boot" });
    const awake = s.dead || at.asleep ? NEVER : fed;
    into.resistor("standby", ".supply", ".ground", at.nominalVolts / s.asleepAmps);
    into.contact("electronics", ".supply", ".ground", awake, at.nominalVolts / s.awakeAmps);
    for (const [pin, p] of Object.entries(s.pins)) {
      const wanted = s.rules.filter((r) => r.pin === pin).map((r) => ruleOf(r.when, { ...at, untold: s.untold }, into));
      pinKindOf(p).stamp(p, { pin, awake, wanted: wanted.length === 0 ? NEVER : any(...wanted), at }, into);
    }
  },
  modes: (s): readonly FailureMode[] => [
    { id: "dead", words: "dead inside", weight: 0.7, harm: { kind: "settings", change: () => ({ dead: true }) }, severities: NO_DEGREE },
    ...canPairsOf(s).map(([high, low]): FailureMode => ({
      id: `${high} and ${low} hold`,
      words: `transceiver holds the pair ${high} and ${low} dominant`,
      weight: 0.4,
      harm: {
        kind: "settings",
        change: () => ({ pins: { ...s.pins, [high]: { ...s.pins[high], holds: true }, [low]: { ...s.pins[low], holds: true } } }),
      },
      effect: "holds",
      severities: NO_DEGREE,
    })),
    ...Object.entries(s.pins).flatMap(([pin, p]) =>
      pinKindOf(p).modes(p, pin, (with_) => ({ pins: { ...s.pins, [pin]: { ...p, ...with_ } } })),
    ),
  ],
  pulses: (s) => Object.values(s.pins).flatMap((p) => pinKindOf(p).pulses?.(p) ?? []),
  commands: (s) => {
    const rules = s.rules.flatMap((r) => pulsedIn(r.when));
    const followed = Object.values(s.pins).flatMap((p) => ("follows" in p && p.follows !== undefined ? [p.follows] : []));
    return [...new Set([...rules, ...followed])].map((pin) => ({
      pin,
      against: firstOf(s, "ground"),
      risesAbove: PULSES_ABOVE,
      fallsBelow: PULSES_BELOW,
    }));
  },
  untold: (s, pins) => ({
    ...s,
    untold: [...pins],
    pins: Object.fromEntries(Object.entries(s.pins).map(([pin, p]) => [pin, untoldPin(p, pins)])),
  }),
  workSight: (_, __, inside) => awakeIn(inside),
  sights: (s, _, inside) => [
    awakeIn(inside),
    ...Object.entries(s.pins).flatMap(([pin, p]) =>
      p.sort === "input" ? [{ kind: "reads", at: pin, value: inside.volts(pin) - inside.volts(".ground"), unit: "V" } as const] : [],
    ),
  ],
};

const awakeIn = (inside: Inside): Sight => ({ kind: "awake", yes: inside.closed("electronics") });

/** A pin of which the one that tells it tells nothing. */
const untoldPin = (p: Settings["pins"][string], pins: readonly string[]): Settings["pins"][string] =>
  "follows" in p && p.follows !== undefined && pins.includes(p.follows) ? { ...p, duty: p.untoldDuty } : p;

/** What a module goes by when it decides on an output. */
export interface Decision {
  /** V at one of its pins against its own ground. */
  readonly volts: (pin: string) => number;
  /** Whether pulses stand at one of its pins. */
  readonly pulses: (pin: string) => boolean;
  readonly key: string;
  readonly engine: string;
  readonly input: number;
}

/** Whether a module wants an output on: any of its rules for it holds. Memory of comparisons is left out. */
export const wantsOn = (rules: readonly { readonly pin: string; readonly when: Condition }[], pin: string, by: Decision): boolean =>
  rules.some((r) => r.pin === pin && holds(r.when, by));

function holds(c: Condition, by: Decision): boolean {
  if ("above" in c) return by.volts(c.pin) > c.above;
  if ("below" in c) return by.volts(c.pin) < c.below;
  if ("pulsed" in c) return by.pulses(c.pulsed);
  if ("key" in c) return (c.key as readonly string[]).includes(by.key);
  if ("engine" in c) return (c.engine as readonly string[]).includes(by.engine);
  if ("inputAbove" in c) return by.input > c.inputAbove;
  if ("not" in c) return !holds(c.not, by);
  return "all" in c ? c.all.every((x) => holds(x, by)) : c.any.some((x) => holds(x, by));
}

function ruleOf(c: Condition, at: Surroundings & { readonly untold: readonly string[] }, into: Stamp): Rule {
  if ("above" in c) return into.watcher(c.pin, ".ground", c.above, c.above - HYSTERESIS_VOLTS);
  if ("below" in c) return not(into.watcher(c.pin, ".ground", c.below + HYSTERESIS_VOLTS, c.below));
  if ("pulsed" in c) return at.untold.includes(c.pulsed) ? NEVER : ALWAYS;
  if ("key" in c) return c.key.includes(at.key) ? ALWAYS : NEVER;
  if ("engine" in c) return c.engine.includes(at.engine) ? ALWAYS : NEVER;
  if ("inputAbove" in c) return (at.input ?? 0) > c.inputAbove ? ALWAYS : NEVER;
  if ("not" in c) return not(ruleOf(c.not, at, into));
  return "all" in c ? all(...c.all.map((x) => ruleOf(x, at, into))) : any(...c.any.map((x) => ruleOf(x, at, into)));
}
