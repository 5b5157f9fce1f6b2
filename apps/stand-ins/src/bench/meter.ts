import { countOf, errorOf, meterVolts, ohmsShown, predictReading, type Leads } from "@rheonom/core/instruments";
import type { ScpiNumber } from "@rheonom/protocol/scpi";
import { createDevice, DeviceFault, flag, number, told, type Branch, type Device } from "./device.ts";
import type { BenchWorld } from "./world.ts";

type Function = "volts" | "ohms" | "amps" | "continuity";
/** Lowest range of each function and how many decades of ranges it has, V, Ω, A. */
const RANGES: Readonly<Record<Function, readonly [number, number]>> = {
  volts: [0.6, 1000],
  ohms: [600, 40e6],
  amps: [6, 1000],
  continuity: [600, 600],
};
const NAMES: Readonly<Record<Function, string>> = { volts: "VOLT", ohms: "RES", amps: "CURR", continuity: "CONT" };
/** Of both leads together, Ω. */
const LEADS_OHMS = 0.18;
/** What leads that hang pick up, V. */
const PICKED_UP = 2e-3;
/** Most of its error that this one has as a fixed share. */
const GAIN_SHARE = 0.4;
/** Bits of the questionable status: voltage, current, and the power of the instrument itself. */
const QUESTIONABLE = { volts: 1, amps: 2, battery: 8 } as const;

/** A usual meter of 6,000 counts with the words of SCPI-1999. Its leads are where the world says. */
export function createMeter(world: BenchWorld): Device {
  let mode: Function = "volts";
  /** Upper end of the range that is set; undefined while the meter finds it itself. */
  let range: number | undefined;
  let kept: ScpiNumber | undefined;
  let isOver = false;
  // A fixed error of its own, within what a usual meter may be off.
  const gain = (2 * world.chance() - 1) * GAIN_SHARE;

  function measure(): ScpiNumber {
    const raw = rawValue(world, mode);
    const shown = raw.kind === "value" ? withError(raw.value) : raw;
    isOver = shown.kind === "over";
    kept = shown;
    return shown;
  }

  function withError(value: number): ScpiNumber {
    const [lowest, most] = RANGES[mode];
    const top = range ?? most;
    if (Math.abs(value) > top) return { kind: "over", sign: value < 0 ? -1 : 1 };
    const count = countOf(range === undefined ? value : range * 0.999, lowest);
    const off = mode === "volts" ? gain * errorOf(meterVolts(value), value) : mode === "amps" ? gain * 0.02 * value : gain * 0.01 * value;
    // The last digit is not still.
    const jitter = Math.round((2 * world.chance() - 1) * 1.2);
    const shown = (Math.round((value + off) / count) + jitter) * count;
    return { kind: "value", value: mode === "ohms" || mode === "continuity" ? Math.max(0, shown) : shown };
  }

  const setMode = (to: Function, parameters: readonly string[] = []): void => {
    const [lowest, most] = RANGES[to];
    const [asked] = parameters;
    const auto = asked === undefined || asked === "" || /^(AUTO|DEF(AULT)?)$/i.test(asked);
    const wanted = auto ? undefined : rangeFor(number(asked, 0, most), lowest, most);
    mode = to;
    range = wanted;
    kept = undefined;
  };
  const functionOf = (text: string | undefined): Function => {
    const said = (text ?? "").toUpperCase();
    const named = {
      VOLT: "volts",
      "VOLT:DC": "volts",
      VOLTAGE: "volts",
      "VOLTAGE:DC": "volts",
      RES: "ohms",
      RESISTANCE: "ohms",
      CURR: "amps",
      "CURR:DC": "amps",
      CURRENT: "amps",
      "CURRENT:DC": "amps",
      CONT: "continuity",
      CONTINUITY: "continuity",
    } as const;
    const found = (named as Readonly<Record<string, Function>>)[said];
    if (found === undefined) throw new DeviceFault(text === undefined ? "noParameter" : "notAllowed");
    return found;
  };
  const of = (header: string, to: Function): readonly Branch[] => [
    { header: `CONFigure${header}`, set: (p) => setMode(to, p) },
    {
      header: `MEASure${header}`,
      query: (p) => {
        setMode(to, p);
        return told(measure());
      },
    },
    {
      header: `[SENSe]${header}:RANGe[:UPPer]`,
      set: ([p]) => setMode(to, [p ?? ""]),
      query: () =>
        told(mode === to ? (range ?? rangeFor(Math.abs(kept?.kind === "value" ? kept.value : 0), ...RANGES[to])) : RANGES[to][1]),
    },
    {
      header: `[SENSe]${header}:RANGe:AUTO`,
      set: ([p]) => void (range = flag(p) ? undefined : rangeFor(0, ...RANGES[to])),
      query: () => (range === undefined ? "1" : "0"),
    },
  ];
  const branches: readonly Branch[] = [
    ...of(":VOLTage[:DC]", "volts"),
    ...of(":RESistance", "ohms"),
    ...of(":CURRent[:DC]", "amps"),
    ...of(":CONTinuity", "continuity"),
    { header: "CONFigure", query: () => `"${NAMES[mode]} ${range === undefined ? "AUTO" : told(range)}"` },
    { header: "[SENSe]:FUNCtion[:ON]", set: ([p]) => setMode(functionOf(p)), query: () => `"${NAMES[mode]}"` },
    { header: "READ", query: () => told(measure()) },
    { header: "INITiate[:IMMediate]", set: () => void measure() },
    {
      header: "FETCh",
      query: () => {
        if (kept === undefined) throw new DeviceFault("noData");
        return told(kept);
      },
    },
    { header: "INPut:IMPedance", query: () => told(10e6) },
    { header: "TRIGger:SOURce", set: ([p]) => void (/^IMM/i.test(p ?? "") || refuse()), query: () => "IMM" },
    { header: "SAMPle:COUNt", set: ([p]) => void (number(p, 1, 1) === 1), query: () => "1" },
  ];
  return createDevice({
    identity: ["Tarn Bench Works", "stand-in meter", "0001", "1.0"],
    branches,
    reset: () => setMode("volts"),
    selfTest: () => (world.isBatteryLow() ? "battery low" : ""),
    questionable: () =>
      (isOver ? (mode === "amps" ? QUESTIONABLE.amps : QUESTIONABLE.volts) : 0) | (world.isBatteryLow() ? QUESTIONABLE.battery : 0),
  });
}

const refuse = (): never => {
  throw new DeviceFault("notAllowed");
};

/** The smallest range that holds a value. */
function rangeFor(value: number, lowest: number, most: number): number {
  let range = lowest;
  while (range < value && range < most) range *= 10;
  return Math.min(range, most);
}

/** What stands between the leads, before the meter's own error. */
function rawValue(world: BenchWorld, mode: Function): ScpiNumber {
  const leads = world.leads();
  const isOhms = mode === "ohms" || mode === "continuity";
  switch (leads.on) {
    case "nothing":
      return isOhms ? { kind: "over", sign: 1 } : { kind: "value", value: mode === "amps" ? 0 : (2 * world.chance() - 1) * PICKED_UP };
    case "each other":
      return { kind: "value", value: isOhms ? LEADS_OHMS : 0 };
    case "wire":
      return mode === "amps" ? predicted(world, { quantity: "amps", around: leads.around }) : { kind: "none" };
    case "places": {
      const { red, black } = leads;
      if (mode === "amps") return { kind: "value", value: 0 };
      const at = predicted(world, { quantity: isOhms ? "ohms" : "volts", red, black });
      return at.kind === "value" && isOhms ? { kind: "value", value: at.value + LEADS_OHMS } : at;
    }
  }
}

/** From the circuit as it is; a meter on ohms at a live circuit shows what its own test voltage and that one come to. */
function predicted(world: BenchWorld, leads: Leads): ScpiNumber {
  const faults = world.faults();
  const reading = predictReading(world.harness, world.state(), faults, leads);
  switch (reading.kind) {
    case "value":
      return { kind: "value", value: reading.value };
    case "over":
      return { kind: "over", sign: 1 };
    case "void": {
      if (reading.why !== "live" || leads.quantity !== "ohms") return { kind: "none" };
      const live = predictReading(world.harness, world.state(), faults, { quantity: "volts", red: leads.red, black: leads.black });
      const shown = live.kind === "value" ? ohmsShown(live.value) : Infinity;
      return shown === Infinity ? { kind: "over", sign: 1 } : { kind: "value", value: shown };
    }
    case "unsolved": {
      const between = "between" in reading ? reading.between : undefined;
      return between === undefined ? { kind: "none" } : { kind: "value", value: between[0] + world.chance() * (between[1] - between[0]) };
    }
  }
}
