import { z } from "zod";
import { copperFactor } from "./copper.ts";
import { crankingTorqueNm } from "./cranking-load.ts";
import { bentAt, bentVolts } from "./curves.ts";
import { all } from "./stamp.ts";
import { CRANKSHAFT_RPM, type DeviceKind, NO_DEGREE, SERIES_OHMS } from "./device.ts";
import { positive, share } from "./settings.ts";

const settings = z.strictObject({
  /** Armature, field and brushes together. */
  motorOhms: positive.default(0.012),
  pullInOhms: positive.default(0.35),
  holdOhms: positive.default(1.1),
  /** Of nominal voltage at terminal 50, at 20 °C. */
  pullInShare: share.default(0.58),
  dropOutShare: share.default(0.3),
  contactOhms: positive.default(0.0005),
  /** From the solenoid's stud to the motor. */
  strapOhms: positive.default(0.0002),
  engineLitres: positive.default(2),
  diesel: z.boolean().default(false),
  /** By size when left out: three to a litre and a bit, four, six, eight. */
  cylinders: z.number().int().min(1).max(16).optional(),
  /** Pinion to ring gear with the inner gear: crankshaft turns slower by this. */
  gearRatio: positive.default(45),
  /** Motor torque over the square of its current, Nm/A². */
  torqueNmPerA2: positive.default(3e-5),
  /** The engine does not turn: seized, hydraulic lock. */
  locked: z.boolean().default(false),
});
type Settings = z.infer<typeof settings>;

/** The two windings once more, so weak that nothing feels them, to have the mean of their far ends. */
const FORCE_SCALE = 1e5;
/** Current over its mean that comes with each volt once it turns, A/V: friction that grows with speed. */
const BEYOND = 3;

/** The torque of a four-stroke engine goes up and down by half at each compression behind its flywheel, and the current, which goes with its root, by a quarter: usual on a clamp. */
const HUMP_SHARE = 0.22;
/** Volts over those at which it begins to turn from which on it counts as turning, and what the compressions' current finds while it does not, Ω. */
const TURNS_TIMES = 1.1;
const REST_OHMS = 100;

/** Cylinders by size, where nobody said: up to so many litres. */
const CYLINDERS = [
  [1.2, 3],
  [2.5, 4],
  [4, 6],
  [Infinity, 8],
] as const;
const cylindersOf = (s: Settings): number => s.cylinders ?? CYLINDERS.find(([litres]) => s.engineLitres <= litres)![1];

/** Current at which the motor's torque turns the engine, A: c·I² = T/ratio. */
const turningAmps = (s: Settings, temperatureC: number): number =>
  Math.sqrt(crankingTorqueNm({ litres: s.engineLitres, diesel: s.diesel }, temperatureC) / s.gearRatio / s.torqueNmPerA2);

/**
 * Starter: terminals 30 (battery), 50 (solenoid), 45 (stud from the solenoid's contact to the motor), 31 (case). The pull-in winding runs from 50 through the motor,
 * the hold winding from 50 to the case, with as many turns. The pull-in winding loses its voltage when the contact closes; when then the start signal goes, its current comes from
 * the motor's stud the other way round and takes away what the hold winding pulls: the solenoid drops out and cannot keep itself in. The motor is a series machine: torque c·I², V =
 * I·R + c·I·ω. Below the current that turns the engine it stands and is a resistance.
 *
 * Pulls in at about 7 V and drops out at 3–4 V, which with a weak feed makes it click: that follows from the circuit, nothing here says so. Valid for 12 V
 * starters of 0.8–2.5 kW with the defaults; give other values for 24 V. Over time each compression shows as a hump of the current, all alike (a cylinder that has lost its own does not show); the speed stands.
 * Inrush of the first tenths of a second is three times the mean and is not shown.
 * Source: series machine (Fitzgerald & Kingsley); usual values of resistance and solenoid.
 */
export const starter: DeviceKind<Settings> = {
  kind: "starter",
  family: "load",
  isNoticed: true,
  words: "starter motor with solenoid",
  settings,
  terminals: () => [
    { name: "30", role: "feed" },
    { name: "50", role: "control" },
    { name: "45", role: "load", bare: true },
    { name: "31", role: "ground" },
  ],
  ways: () => [
    { part: "pull-in winding", a: "50", b: "45", consumes: true },
    { part: "hold winding", a: "50", b: "31", consumes: true },
    { part: "contact", a: "30", b: "45", consumes: false },
    { part: "motor", a: "45", b: "31", consumes: true },
  ],
  stamp: (s, at, into) => {
    const warm = copperFactor(at.temperatureC);
    // Both windings have as many turns, so that what pulls is the sum of their currents: V50/Rp + V50/Rh − V45/Rp − V31/Rh, over (1/Rp + 1/Rh) a voltage against the mean of 45 and 31.
    const holdPart = s.pullInOhms / (s.pullInOhms + s.holdOhms);
    into.resistor("force, pull-in part", "45", ".force", s.pullInOhms * FORCE_SCALE);
    into.resistor("force, hold part", "31", ".force", s.holdOhms * FORCE_SCALE);
    const pulled = into.watcher(
      "50",
      ".force",
      s.pullInShare * at.nominalVolts * warm,
      holdPart * s.dropOutShare * at.nominalVolts * warm,
      {
        pace: "contact",
      },
    );
    into.winding("pull-in winding", "50", "45", s.pullInOhms * warm, 1e-3);
    into.winding("hold winding", "50", "31", s.holdOhms * warm, 3e-3);
    into.contact("contact", "30", "45", pulled, s.contactOhms);
    into.resistor("strap", "45", ".motor", s.strapOhms);
    const ohms = s.motorOhms * warm;
    if (s.locked) return into.resistor("motor", ".motor", "31", ohms);
    const turning = turningAmps(s, at.temperatureC);
    into.curve("motor", ".motor", "31", bentAt(ohms, turning * ohms, BEYOND));
    if (!at.transient || at.engine !== "cranking") return;
    // While it turns, each compression asks for its share: behind a contact, so that nothing of it shows in a motor that stands.
    const turns = into.watcher(".motor", "31", TURNS_TIMES * turning * ohms, turning * ohms);
    into.contact("compressions' gate", ".motor", ".compressions", all(pulled, turns), 1e-4);
    into.resistor("compressions' rest", ".compressions", "31", REST_OHMS);
    const hertz = (CRANKSHAFT_RPM.cranking / 60) * (cylindersOf(s) / 2);
    into.current("compressions", ".compressions", "31", 0, {
      kind: "sine",
      offset: 0,
      amplitude: HUMP_SHARE * turning,
      hertz,
      delayS: 0,
      dampingPerS: 0,
    });
  },
  modes: () => [
    {
      id: "solenoid open",
      words: "solenoid winding open",
      weight: 1.5,
      harm: { kind: "open", part: "hold winding" },
      severities: NO_DEGREE,
    },
    {
      id: "pull-in open",
      words: "pull-in winding open",
      weight: 0.7,
      harm: { kind: "open", part: "pull-in winding" },
      severities: NO_DEGREE,
    },
    {
      id: "contact burnt",
      words: "solenoid contact burnt",
      weight: 3,
      harm: { kind: "series", part: "contact" },
      severities: [0.005, 0.02, 0.1, ...SERIES_OHMS.slice(1)],
    },
    {
      id: "contact dead",
      words: "solenoid contact does not close",
      weight: 2,
      harm: { kind: "stuck", part: "contact", closed: false },
      severities: NO_DEGREE,
    },
    {
      id: "strap loose",
      words: "strap from solenoid to motor loose",
      mend: "clean and tighten the strap between solenoid and motor",
      weight: 1,
      harm: { kind: "series", part: "strap" },
      severities: [0.005, 0.02, 0.1, 1],
    },
    {
      id: "strap open",
      words: "strap from solenoid to motor open",
      mend: "fit the strap between solenoid and motor, or a new one",
      weight: 0.5,
      harm: { kind: "open", part: "strap" },
      severities: NO_DEGREE,
    },
    {
      id: "brushes worn",
      words: "brushes worn out",
      weight: 2.5,
      harm: { kind: "series", part: "motor" },
      severities: [0.02, 0.1, 1, 100],
    },
    {
      id: "engine locked",
      words: "engine or starter locked",
      mend: "find out by hand what does not turn, engine or starter, before anything is bought",
      weight: 0.7,
      harm: { kind: "settings", change: () => ({ locked: true }) },
      severities: NO_DEGREE,
    },
  ],
  ratedWork: () => CRANKSHAFT_RPM.cranking,
  sights: (s, at, inside) => {
    const amps = inside.amps("motor");
    const needed = turningAmps(s, at.temperatureC);
    const ohms = s.motorOhms * copperFactor(at.temperatureC);
    const turns = !s.locked && amps >= needed;
    // Not by the voltage at the stud, of which worn brushes take their share.
    const volts = bentVolts(ohms, needed * ohms, BEYOND, amps);
    const radPerS = turns ? (volts / amps - ohms) / s.torqueNmPerA2 : 0;
    const rpm = Math.max(0, (radPerS * 60) / (2 * Math.PI) / s.gearRatio);
    return [
      { kind: "pulled in", yes: inside.closed("contact") },
      { kind: "speed", rpm, stalled: rpm < 5 && amps > 30 },
    ];
  },
};
