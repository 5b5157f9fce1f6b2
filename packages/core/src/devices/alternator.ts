import { z } from "zod";
import { limitedSource } from "./curves.ts";
import { CRANKSHAFT_RPM, type DeviceKind, NO_DEGREE, SERIES_OHMS, type Surroundings } from "./device.ts";
import { LIN_DOMINANT_SHARE, LIN_RECESSIVE_SHARE } from "./pins/lin.ts";
import { pulseRule } from "./pins/pulse.ts";
import { positive } from "./settings.ts";
import { ALWAYS, NEVER, not, SILICON, type Stamp } from "./stamp.ts";
import type { Rule } from "../solver/index.ts";

const settings = z.strictObject({
  /**
   * "lamp": excited through the warning lamp at terminal L. "command": set point by pulses at C from the engine's module, load told by M. "lin": set point by
   * message at LIN, its default without.
   */
  control: z.enum(["lamp", "command", "lin"]).default("lamp"),
  ratedAmps: positive.default(120),
  /** What it regulates to while it is told nothing at C or LIN, V at 25 °C in 12 V systems. */
  defaultVolts: z.number().min(12).max(16).default(13.5),
  /** From C to the case, Ω. */
  commandOhms: positive.default(4700),
  /** Pulses at C count from above the one to below the other, V. */
  commandAbove: positive.default(3),
  commandBelow: positive.default(1.5),
  /** Nothing is told at C or LIN. */
  untold: z.boolean().default(false),
  /** At 25 °C as it is told, and without any control, for 12 V systems; doubled for 24 V. */
  setVolts: z.number().min(12).max(16).default(14.2),
  /** Colder is higher: change of the set point, V/K. */
  setVoltsPerK: z.number().min(-0.03).max(0).default(-0.007),
  /** Pulley ratio: shaft over crankshaft. */
  pulleyRatio: positive.default(2.8),
  /** Shaft speed from which it gives anything, rpm, and at which it has half its current above that. */
  cutInRpm: positive.default(1000),
  halfRpm: positive.default(1100),
  openDiodes: z.number().int().min(0).max(2).default(0),
  shortedDiodes: z.number().int().min(0).max(1).default(0),
  /** The regulator: sound, stuck at full field, or dead. */
  regulator: z.enum(["sound", "full", "dead"]).default("sound"),
  /** The driver of the lamp's terminal holds it low though it charges. */
  lampHeld: z.boolean().default(false),
  /** Current for which the field stands over time, A; half the rating when left out. */
  fieldAmps: z.number().min(0).optional(),
  /** Belt slips: share of the speed that is lost. */
  slip: z.number().min(0).max(1).default(0),
});
type Settings = z.infer<typeof settings>;

/** Phase resistance, Ω; reactance at the current limit as a share of the voltage; eddy currents beside it, times the reactance; share of the rating at which the field stands. */
const PHASE_OHMS = 0.02;
const REACTANCE_SHARE = 0.4;
const IRON_LOSS_TIMES = 30;
const MIDDLE_LOAD = 0.5;
const REGULATOR_OHMS = 0.004;
const LAMP_SINK_OHMS = 6;
/** Its monitor: share of full field, which is half while it is as it should be, and how often it tells it. */
const MONITOR = { duty: 0.5, hertz: 100 } as const;
/** What a receiver of messages is fed with while the engine turns, V in 12 V systems. */
const CHARGED_VOLTS = 13.8;
/** Sound rectifier in one direction, and what is left of the current with a diode gone. Estimates from the share of phases that still feed. */
const OPEN_DIODE_SHARE = [1, 0.72, 0.45] as const;
const SHORTED_DIODE_SHARE = [1, 0.4] as const;

const shaftRpm = (s: Settings, at: Surroundings): number => CRANKSHAFT_RPM[at.engine] * s.pulleyRatio * (1 - s.slip);

/** Largest current at a shaft speed, A: Imax·(n − n₀)/(n − n₀ + n½), which levels off towards the rating at about 6000 rpm. */
export function mostAmps(s: Settings, shaft: number): number {
  const over = Math.max(0, shaft - s.cutInRpm);
  const atRated = (6000 - s.cutInRpm) / (6000 - s.cutInRpm + s.halfRpm);
  return ((s.ratedAmps * over) / (over + s.halfRpm) / atRated) * OPEN_DIODE_SHARE[s.openDiodes]! * SHORTED_DIODE_SHARE[s.shortedDiodes]!;
}

/** Voltage it regulates to, V; `at.input` is a commanded set point where the control takes one. */
function setPoint(s: Settings, at: Surroundings): number {
  const nominal = at.nominalVolts / 12;
  if (s.regulator === "full") return 17.5 * nominal;
  const own = ((s.untold ? s.defaultVolts : s.setVolts) + s.setVoltsPerK * (at.temperatureC - 25)) * nominal;
  return s.control === "lamp" || s.untold || at.input === undefined ? own : Math.min(15.2 * nominal, Math.max(12.2 * nominal, at.input));
}

/**
 * Alternator: B+, case 31, and by control L, C and M, or LIN. At rest it is a regulated source, set point behind 4 mΩ, up to a current that rises with speed; it
 * takes nothing back, as its diodes block. The lamp kind needs current through L to begin, and holds itself from then on; L then stands at its output. The commanded kind
 * falls back to its default voltage while there are no pulses at C, and then tells nothing at M;
 * the one on a LIN line while it does not see the line's master hold it low and let it go.
 *
 * Over time it is three phases behind their inductance and six diodes, so that ripple and a missing diode show on a trace. One open diode leaves about 72 %, two
 * 45 %, a shorted one 40 % of the current. There the field stands still as for
 * `fieldAmps`, so that the mean is right for what it was set by and not regulated from there. No heat, no load response. Source: usual characteristic of claw-pole machines (current levels off through
 * the machine's own reactance); shares by counting phases.
 */
export const alternator: DeviceKind<Settings> = {
  kind: "alternator",
  family: "supply",
  words: "alternator",
  settings,
  terminals: (s) => [
    { name: "B+", role: "feed" },
    { name: "31", role: "ground" },
    ...(s.control === "lamp" ? [{ name: "L", role: "control" } as const] : []),
    ...(s.control === "command"
      ? ([
          { name: "C", role: "control" },
          { name: "M", role: "signal" },
        ] as const)
      : []),
    ...(s.control === "lin" ? [{ name: "LIN", role: "bus" } as const] : []),
  ],
  ways: (s) => [
    { part: "output", a: "31", b: "B+", consumes: true },
    ...(s.control === "lamp" ? [{ part: "field", a: "L", b: "31", consumes: true }] : []),
  ],
  stamp: (s, at, into) => {
    const most = s.regulator === "dead" ? 0 : mostAmps(s, shaftRpm(s, at));
    const turning = most > 0;
    const charging = excitation(s, at, into, turning);
    if (at.transient && turning) return phases(s, at, into, most);
    if (!turning) return;
    into.curve("output", ".output", "31", limitedSource(setPoint(s, at), REGULATOR_OHMS, most));
    into.contact("rectifier", ".output", "B+", charging, 2e-4);
  },
  modes: (s) => [
    {
      id: "diode open",
      words: "one rectifier diode open",
      weight: 1.5,
      harm: { kind: "settings", change: () => ({ openDiodes: 1 }) },
      effect: "open",
      severities: NO_DEGREE,
    },
    {
      id: "diode shorted",
      words: "one rectifier diode shorted",
      weight: 1,
      harm: { kind: "settings", change: () => ({ shortedDiodes: 1 }) },
      effect: "shorted inside",
      severities: NO_DEGREE,
    },
    {
      id: "regulator dead",
      words: "regulator gives no field",
      weight: 3,
      harm: { kind: "settings", change: () => ({ regulator: "dead" }) },
      severities: NO_DEGREE,
    },
    {
      id: "regulator full",
      words: "regulator stuck at full field",
      weight: 0.7,
      harm: { kind: "settings", change: () => ({ regulator: "full" }) },
      severities: NO_DEGREE,
    },
    {
      id: "belt slips",
      words: "belt slips",
      mend: "tension the belt, or renew it and what made it slip",
      weight: 1.5,
      harm: { kind: "settings", change: (slip) => ({ slip }) },
      severities: [0.3, 0.6, 1],
    },
    ...(s.control === "lamp"
      ? [
          {
            id: "lamp terminal held low",
            words: "holds its lamp terminal low though it charges",
            weight: 0.5,
            harm: { kind: "settings", change: () => ({ lampHeld: true }) },
            effect: "holds",
            severities: NO_DEGREE,
          } as const,
          {
            id: "field worn",
            words: "brushes or field winding with high resistance",
            weight: 1.5,
            harm: { kind: "series", part: "field" },
            severities: SERIES_OHMS,
          } as const,
        ]
      : []),
  ],
  pulses: (s, at) => (s.control === "command" && at.engine !== "stopped" ? [MONITOR.duty] : []),
  commands: (s, at) => {
    if (s.control === "lamp" || mostAmps(s, shaftRpm(s, at)) === 0) return [];
    if (s.control === "command") return [{ pin: "C", against: "31", risesAbove: s.commandAbove, fallsBelow: s.commandBelow }];
    const supply = (CHARGED_VOLTS * at.nominalVolts) / 12;
    return [
      { pin: "LIN", against: "31", risesAbove: LIN_RECESSIVE_SHARE * supply, fallsBelow: LIN_DOMINANT_SHARE * supply, byMessage: true },
    ];
  },
  untold: (s) => ({ ...s, untold: true }),
  /** A: what a sound one gives after a start. */
  ratedWork: () => 20,
  sights: (_, __, inside) => [{ kind: "charging", amps: Math.max(0, inside.amps("rectifier")) }],
};

/** What stands at the control terminals, and the rule by which it charges. */
function excitation(s: Settings, at: Surroundings, into: Stamp, turning: boolean): Rule {
  if (s.control === "lamp") {
    // At rest the field takes its current from the lamp, so that the lamp lights. 30 mA through the lamp is enough to begin.
    const begun = into.watcher("L", "31", 0.03 * LAMP_SINK_OHMS, 0.02 * LAMP_SINK_OHMS);
    const charging = turning ? begun : NEVER;
    into.contact("field", "L", "31", turning && !s.lampHeld ? not(begun) : ALWAYS, LAMP_SINK_OHMS);
    // Once it charges, the auxiliary diodes bring L to the output's voltage and hold the excitation up without the lamp.
    if (turning) {
      if (!s.lampHeld) into.contact("auxiliary diodes", ".output", "L", begun, 2);
      into.resistor("residual", "L", "31", 1e5);
    }
    return charging;
  }
  if (s.control === "command") {
    into.resistor("command input", "C", "31", s.commandOhms);
    // The monitor pulls its line low for the share of full field.
    if (turning && !s.untold) into.contact("monitor", "M", "31", pulseRule(MONITOR, { pin: "M", at }, into, "31"), 60);
    return turning ? ALWAYS : NEVER;
  }
  into.resistor("bus pull-up", "B+", ".bus", 30_000);
  into.diode("bus diode", ".bus", "LIN", SILICON);
  return turning ? ALWAYS : NEVER;
}

/** Six diodes on three phases, as a scope at B+ sees them. Ripple of the direct current is what is left between the phases. */
function phases(s: Settings, at: Surroundings, into: Stamp, most: number): void {
  const shaft = shaftRpm(s, at);
  const hertz = (shaft / 60) * 6;
  // Into a large coil a bridge gives 3√3/π of the phase's amplitude, less two diodes, the commutation's (3/π)·X·I and copper; into a stiff battery the phase sees 2/π of the output beside X·π/3·I.
  // What hangs on it lies between them (within 2 % of what a meter shows). The field stands as for the load that it has at rest.
  const volts = setPoint(s, at);
  const reactance = (REACTANCE_SHARE * volts) / Math.max(1, most);
  // The regulator answers a lost diode with more field.
  const load = (s.openDiodes + s.shortedDiodes > 0 ? 1.5 : 1) * Math.min(most, s.fieldAmps ?? MIDDLE_LOAD * s.ratedAmps);
  const out = volts + 1.7;
  const line = (Math.PI / 3) * load;
  const intoCoil = ((out + (3 / Math.PI) * reactance * load + 2 * PHASE_OHMS * load) * Math.PI) / (3 * Math.sqrt(3));
  const intoBattery = Math.hypot((2 / Math.PI) * out + PHASE_OHMS * line, reactance * line);
  const emf = (intoCoil + intoBattery) / 2;
  const henries = reactance / (2 * Math.PI * hertz);
  for (const [i, name] of ["U", "V", "W"].entries()) {
    into.source(`phase ${name}`, `.emf ${name}`, ".star", 0, 1e-3, {
      kind: "sine",
      offset: 0,
      amplitude: emf,
      hertz,
      delayS: -(1 - i / 3) / hertz,
      dampingPerS: 0,
    });
    into.winding(`winding ${name}`, `.emf ${name}`, `.${name}`, PHASE_OHMS, henries, IRON_LOSS_TIMES * reactance);
    const upper = i < s.openDiodes ? "open" : i === 2 && s.shortedDiodes > 0 ? "shorted" : "sound";
    if (upper === "sound") into.diode(`upper diode ${name}`, `.${name}`, "B+", SILICON);
    if (upper === "shorted") into.resistor(`upper diode ${name}`, `.${name}`, "B+", 0.01);
    into.diode(`lower diode ${name}`, "31", `.${name}`, SILICON);
  }
  // Nothing else ties the star point.
  into.resistor("insulation", ".star", "31", 1e6);
}
