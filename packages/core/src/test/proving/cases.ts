import { readFileSync } from "node:fs";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import type { Observable } from "../../diagnosis/index.ts";
import { resolveVariant, type Harness } from "../../harness/index.ts";
import { circuitOf } from "../circuits.ts";

/** A vehicle with a hidden fault, and what somebody found on it in this order. */
export interface ProvingCase {
  readonly circuit: string;
  /** Options that the vehicle has; all when not said. */
  readonly options?: readonly string[];
  readonly words: string;
  /** Names of faults of the catalogue, each with its severity. */
  readonly truth: readonly (readonly [fault: string, severity: number])[];
  readonly focus: readonly string[];
  readonly state?: Partial<VehicleState>;
  readonly found: readonly (readonly [Observable, Partial<VehicleState>?])[];
  /** Things of which one must stand first at the end: what is wrong, and what no instrument used can tell from it. */
  readonly first: readonly string[];
}

/** The circuit of that name as a vehicle with these options. */
export function provingCircuit(name: string, options?: readonly string[]): Harness {
  const whole = circuitOf(readFileSync(new URL(`${name}.circuit`, import.meta.url), "utf8"));
  return resolveVariant(whole, options ?? whole.options?.map((o) => o.id) ?? []);
}

export const stateOf = (of: Partial<VehicleState> = {}): VehicleState => ({ ...REST_STATE, key: "run", ...of });

const v = (red: string, black = "BAT.-"): Observable => ({ kind: "volts", red, black });
const part = (id: string): Observable => ({ kind: "part", part: id });
const answers = (module: string): Observable => ({ kind: "answers", module });
const code = (name: string): Observable => ({ kind: "code", code: name });
const live = (module: string, pin: string): Observable => ({ kind: "live", module, pin });
const level = (which: "high" | "low", red: string, black: string): Observable => ({ kind: "level", which, red, black });
const duty = (red: string, black: string): Observable => ({ kind: "duty", red, black });
const ohms = (red: string, black: string): Observable => ({ kind: "ohms", red, black });

export const PROVING_CASES: readonly ProvingCase[] = [
  {
    circuit: "lin-seats",
    words: "one slave's LIN wire has 10 kΩ",
    truth: [["W11 resistance", 1e4]],
    focus: ["SL"],
    found: [
      [answers("SL")],
      [answers("SR")],
      [answers("SB")],
      [v("SL.1", "SL.2")],
      [v("SL.3")],
      [v("S2")],
      [ohms("SL.3", "C1.2a"), { key: "off" }],
      [ohms("C1.2a", "S2"), { key: "off" }],
    ],
    first: ["W11"],
  },
  {
    circuit: "lin-seats",
    words: "one slave's LIN cavity is open; only a code says so",
    truth: [["C2.2 open", 0]],
    focus: [],
    found: [[code("U1103")], [code("U1101")], [answers("SB")], [v("SB.3")], [v("C2.2a")]],
    first: ["C2.2", "W15"],
  },
  {
    circuit: "lin-seats",
    words: "a slave holds the line",
    truth: [["SR 3 holds", 0]],
    focus: ["SEM"],
    found: [
      [answers("SL")],
      [answers("SR")],
      [answers("SB")],
      [v("S2")],
      [v("S2"), { opened: ["SR"] }],
      [answers("SL"), { opened: ["SR"] }],
    ],
    first: ["SR"],
  },
  {
    circuit: "lin-seats",
    words: "LIN chafed to ground behind a plug",
    truth: [["W12 short to ground", 0.5]],
    focus: ["SL", "SR"],
    found: [[answers("SL")], [answers("SR")], [v("S2")], [v("S2"), { opened: ["SL"] }], [v("S2"), { opened: ["C1"] }]],
    first: ["W12"],
  },
  {
    circuit: "lin-seats",
    words: "the LIN line touches a live wire",
    truth: [["W14 short to feed", 0.5]],
    focus: ["SL", "SR", "SB"],
    found: [
      [answers("SL")],
      [answers("SR")],
      [v("S2")],
      [v("S2"), { key: "off" }],
      [v("S2"), { key: "off", opened: ["C1"] }],
      [v("S2"), { key: "off", opened: ["C2"] }],
    ],
    first: ["W14", "W13", "W11", "W10"],
  },
  {
    circuit: "lin-seats",
    words: "a slave's ground is bad",
    truth: [["C1.3 open", 0]],
    focus: ["SL"],
    found: [[answers("SL")], [answers("SR")], [v("SL.1")], [v("SL.2")], [v("C1.3b")]],
    first: ["C1.3", "W16"],
  },
  {
    circuit: "can-yard",
    words: "CAN high of the axle open",
    truth: [["C2.2 open", 0]],
    focus: ["AXL"],
    found: [[answers("AXL")], [answers("HYD")], [code("U0101")], [v("AXL.H")], [v("C2.2a")], [ohms("C2.2a", "C2.3a"), { key: "off" }]],
    first: ["C2.2", "W24", "W23"],
  },
  {
    circuit: "can-yard",
    words: "a terminator is missing",
    truth: [["RT2 resistance open", 0]],
    focus: [],
    found: [
      [ohms("VCM.H", "VCM.L"), { key: "off" }],
      [ohms("AXL.H", "AXL.L"), { key: "off" }],
      [answers("AXL")],
      [ohms("RT2.1", "RT2.2"), { key: "off" }],
      [ohms("AXL.H", "AXL.L"), { key: "off", opened: ["C1"] }],
      [ohms("VCM.H", "VCM.L"), { key: "off", opened: ["RT2"] }],
    ],
    first: ["RT2", "W27", "W28"],
  },
  {
    circuit: "can-yard",
    words: "the option part drags the line",
    truth: [["TOW H and L hold", 0]],
    focus: ["AXL", "HYD"],
    found: [[answers("AXL")], [answers("HYD")], [answers("DSP")], [v("VCM.L")], [v("VCM.H")], [v("VCM.L"), { opened: ["C3"] }]],
    first: ["TOW"],
  },
  {
    circuit: "can-yard",
    words: "CAN low shorted to ground",
    truth: [["W25 short to ground", 0.5]],
    focus: ["AXL"],
    found: [
      [answers("AXL")],
      [answers("HYD")],
      [v("VCM.L")],
      [v("VCM.H")],
      [v("VCM.L"), { opened: ["C2"] }],
      [v("VCM.L"), { opened: ["C1"] }],
    ],
    first: ["W20", "W22", "W25", "W32", "W33"],
  },
  {
    circuit: "can-yard",
    words: "CAN high and low touch each other at a plug",
    truth: [["W26 short to ground", 0.05]],
    focus: [],
    found: [
      [code("U0101")],
      [code("U0102")],
      [code("U0103")],
      [v("AXL.L")],
      [v("AXL.L"), { opened: ["C2"] }],
      [v("S4"), { opened: ["C2"] }],
    ],
    first: ["W26", "W28"],
  },
  {
    circuit: "can-yard",
    words: "two faults: bus to the axle and feed of the display",
    truth: [
      ["C2.2 open", 0],
      ["W3 open", 0],
    ],
    focus: ["AXL", "DSP"],
    found: [
      [answers("AXL")],
      [answers("DSP")],
      [answers("HYD")],
      [v("DSP.1")],
      [v("F1.2")],
      [v("AXL.H")],
      [v("C2.2a")],
      [v("AXL.1", "AXL.2")],
    ],
    first: ["W3", "C2.2", "W24"],
  },
  {
    circuit: "wire-trim",
    words: "the single wire open to one door",
    truth: [["C2.2 open", 0]],
    focus: ["DFR"],
    found: [[answers("DFR")], [answers("DFL")], [v("DFR.1", "DFR.2")], [ohms("DFR.3", "C2.2b"), { key: "off" }]],
    first: ["C2.2", "W12"],
  },
  {
    circuit: "wire-trim",
    words: "the single wire chafed to ground in a door",
    truth: [["W11 short to ground", 0.5]],
    focus: ["DFL", "DFR"],
    found: [[answers("DFL")], [answers("DFR")], [answers("DFR"), { opened: ["C1"] }], [answers("DFR"), { opened: ["DFL"] }]],
    first: ["W11"],
  },
  {
    circuit: "wire-trim",
    words: "a module holds the wire high",
    truth: [["RAD 3 holds", 0]],
    focus: ["DFL"],
    found: [[answers("DFL")], [answers("DFR")], [v("TRM.3")], [v("TRM.3"), { opened: ["RAD"] }]],
    first: ["RAD"],
  },
  {
    circuit: "cold-start",
    words: "0.02 Ω in the starter's cable lug",
    truth: [["W1 resistance", 0.05]],
    focus: ["STA"],
    state: { key: "crank", engine: "cranking", on: ["CLS"] },
    found: [[part("STA")], [v("BAT.+")], [v("STA.30")], [v("STA.31")]],
    first: ["W1", "=1"],
  },
  {
    circuit: "cold-start",
    words: "the clutch switch is bad",
    truth: [["CLS resistance", 100]],
    focus: ["STA"],
    state: { key: "crank", engine: "cranking", on: ["CLS"] },
    found: [[part("STA")], [v("STA.50")], [v("R1.86")], [v("CLS.1")]],
    first: ["CLS"],
  },
  {
    circuit: "cold-start",
    words: "3 mΩ in the engine strap",
    truth: [["G3 resistance", 0.05]],
    focus: ["STA"],
    state: { key: "crank", engine: "cranking", on: ["CLS"] },
    found: [[part("STA")], [v("BAT.+")], [v("STA.31")], [v("G3")], [v("STA.30")]],
    first: ["G3", "W11"],
  },
  {
    circuit: "charge-lamp",
    words: "the lamp wire is open",
    truth: [["C1.4 open", 0]],
    focus: ["CHL"],
    found: [[part("CHL")], [v("ALT.L")], [v("C1.4a")], [v("CHL.1")]],
    first: ["C1.4", "W9"],
  },
  {
    circuit: "charge-lamp",
    words: "charges too little: joint in the output cable, a figure alone",
    truth: [["W2 resistance", 0.05]],
    focus: [],
    state: { engine: "idling", on: ["SW1"] },
    found: [
      [v("BAT.+"), { engine: "idling", on: ["SW1"] }],
      [v("ALT.B+", "BAT.+"), { engine: "idling", on: ["SW1"] }],
      [v("F1.2", "BAT.+"), { engine: "idling", on: ["SW1"] }],
    ],
    first: ["W2"],
  },
  {
    circuit: "charge-lamp",
    words: "too much voltage",
    truth: [["ALT regulator full", 0]],
    focus: [],
    state: { engine: "at speed" },
    found: [[v("BAT.+"), { engine: "at speed" }]],
    first: ["ALT"],
  },
  {
    circuit: "sensor-return",
    words: "0.1 kΩ in the common return: values alone",
    truth: [["C1.2 resistance", 100]],
    focus: [],
    found: [
      [live("ECM", "B3")],
      [live("ECM", "B4")],
      [v("S1", "ECM.A2")],
      [v("ECM.B2", "ECM.A2")],
      [v("C1.2b", "ECM.A2")],
      [v("C1.2a", "ECM.A2")],
    ],
    first: ["C1.2", "W9"],
  },
  {
    circuit: "sensor-return",
    words: "a code alone: open coolant signal",
    truth: [["C1.3 open", 0]],
    focus: [],
    found: [[code("P0118")], [code("P0113")], [live("ECM", "B3")], [v("ECT.1")], [v("C1.3a")]],
    first: ["C1.3", "W18"],
  },
  {
    circuit: "sensor-return",
    words: "the 12 V pull-up of the cam signal lost",
    truth: [["ECM B6 pull lost", 0]],
    focus: [],
    found: [
      [live("ECM", "B6"), { inputs: { CMP: 1 } }],
      [v("CMP.S"), { inputs: { CMP: 1 } }],
      [v("CMP.P", "CMP.N")],
      [v("ECM.B6"), { inputs: { CMP: 1 }, opened: ["C1"] }],
      [ohms("ECM.B6", "ECM.A2"), { key: "off", opened: ["C1"] }],
    ],
    first: ["ECM"],
  },
  {
    circuit: "alternator-command",
    words: "command wire open",
    truth: [["C1.7 open", 0]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [v("ALT.C"), { engine: "idling" }],
      [v("C1.7a"), { engine: "idling" }],
      [v("ECM.11"), { engine: "idling" }],
    ],
    first: ["C1.7", "W10"],
  },
  {
    circuit: "alternator-lin",
    words: "the alternator's branch of the LIN line open: it charges its default voltage, and everybody else talks",
    truth: [["C1.7 open", 0]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [v("BAT.+"), { engine: "idling" }],
      [answers("BMS"), { engine: "idling" }],
      [ohms("ALT.LIN", "C1.7b"), { key: "off" }],
      [ohms("C1.7b", "C1.7a"), { key: "off" }],
      [ohms("C1.7a", "S1"), { key: "off" }],
    ],
    first: ["C1.7"],
  },
  {
    circuit: "alternator-lin",
    words: "the line chafed to ground: the battery sensor is silent as well",
    truth: [["W15 short to ground", 0.05]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [v("BAT.+"), { engine: "idling" }],
      [answers("BMS"), { engine: "idling" }],
      [v("S1"), { engine: "idling" }],
    ],
    first: ["W15", "W9", "W10", "W11"],
  },
  {
    circuit: "alternator-command",
    words: "monitor wire open",
    truth: [["C1.8 open", 0]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [live("ECM", "12"), { engine: "idling" }],
      [v("ALT.M"), { engine: "idling" }],
      [v("C1.8a"), { engine: "idling" }],
    ],
    first: ["C1.8", "W12"],
  },
  {
    circuit: "alternator-command",
    words: "command wire of 3 kΩ: the same duty, lower at the far end",
    truth: [["C1.7 resistance", 1e4]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [v("BAT.+"), { engine: "idling" }],
      [duty("ALT.C", "ALT.31"), { engine: "idling" }],
      [level("high", "ALT.C", "ALT.31"), { engine: "idling" }],
      [level("high", "ECM.11", "ECM.2"), { engine: "idling" }],
      [level("high", "C1.7b", "ALT.31"), { engine: "idling" }],
      [level("high", "C1.7a", "ALT.31"), { engine: "idling" }],
    ],
    first: ["C1.7"],
  },
  {
    circuit: "alternator-command",
    words: "commanded 69 %, monitor none",
    truth: [["W11 open", 0]],
    focus: [],
    state: { engine: "idling" },
    found: [
      [duty("ECM.11", "ECM.2"), { engine: "idling" }],
      [duty("ECM.12", "ECM.2"), { engine: "idling" }],
      [duty("ALT.M", "ALT.31"), { engine: "idling" }],
      [level("high", "ALT.M", "ALT.31"), { engine: "idling" }],
      [level("high", "C1.8a", "ALT.31"), { engine: "idling" }],
    ],
    first: ["W11"],
  },
  {
    circuit: "coil-and-valve",
    words: "a coil held on by a chafed control wire",
    truth: [["W10 short to ground", 0.05]],
    focus: ["IC1"],
    state: { engine: "idling" },
    found: [
      [part("IC1")],
      [part("IC2")],
      [v("IC1.1"), { engine: "idling" }],
      [v("IC1.1"), { opened: ["ECM"] }],
      [v("ECM.3"), { opened: ["C1"] }],
    ],
    first: ["W10", "W9"],
  },
  {
    circuit: "coil-and-valve",
    words: "a coil held on by its driver",
    truth: [["ECM 3 stuck", 0]],
    focus: ["IC1"],
    state: { engine: "idling" },
    found: [
      [part("IC1")],
      [part("IC2")],
      [v("IC1.1"), { engine: "idling" }],
      [duty("IC1.1", "BAT.-"), { engine: "idling" }],
      [v("IC1.1"), { opened: ["ECM"] }],
    ],
    first: ["ECM"],
  },
  {
    circuit: "pump-command",
    words: "a pump that runs at its emergency speed: command wire open",
    truth: [["C1.3 open", 0]],
    focus: ["PMP"],
    state: { engine: "idling" },
    found: [
      [part("PMP")],
      [part("CEL")],
      [level("high", "FPM.3", "FPM.2"), { engine: "idling" }],
      [duty("FPM.3", "FPM.2"), { engine: "idling" }],
      [duty("C1.3a", "FPM.2"), { engine: "idling" }],
    ],
    first: ["C1.3", "W5"],
  },
  {
    circuit: "pump-command",
    words: "the report wire chafed to ground: engine lamp alone",
    truth: [["W8 short to ground", 0.5]],
    focus: ["CEL"],
    state: { engine: "idling" },
    found: [
      [part("CEL")],
      [duty("ECM.6", "ECM.2"), { engine: "idling" }],
      [v("ECM.6"), { engine: "idling" }],
      [v("ECM.6"), { engine: "idling", opened: ["FPM"] }],
      [v("ECM.6"), { engine: "idling", opened: ["C1"] }],
    ],
    first: ["W8"],
  },
  {
    circuit: "charge-lamp",
    words: "the lamp terminal held low inside a charging alternator",
    truth: [["ALT lamp terminal held low", 0]],
    focus: ["CHL"],
    state: { engine: "idling" },
    found: [
      [part("CHL")],
      [v("BAT.+"), { engine: "idling" }],
      [v("ALT.L", "ALT.31"), { engine: "idling" }],
      [v("ALT.L", "ALT.31"), { engine: "idling", opened: ["C1"] }],
    ],
    first: ["ALT"],
  },
  {
    circuit: "charge-lamp",
    words: "the lamp wire chafed to ground: lit though it charges",
    truth: [["W9 short to ground", 0.5]],
    focus: ["CHL"],
    state: { engine: "idling" },
    found: [
      [part("CHL")],
      [v("BAT.+"), { engine: "idling" }],
      [part("CHL"), { engine: "idling", opened: ["ALT"] }],
      [part("CHL"), { engine: "idling", opened: ["C1"] }],
    ],
    first: ["W9"],
  },
];
