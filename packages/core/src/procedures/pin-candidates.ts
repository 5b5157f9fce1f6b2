/** A kind of device that stands behind an unknown plug, as a small circuit around it. */
export interface PinKindGuess {
  readonly id: string;
  readonly words: string;
  /** Pins of the device in the circuit, with what each is for. */
  readonly pins: readonly { readonly place: string; readonly role: string }[];
  readonly notation: string;
  /** Inputs of the device between which it may stand: travel 0…1, °C, Hz; and switches that may be on or off. */
  readonly inputs: readonly Readonly<Record<string, number>>[];
  readonly switches: readonly string[];
  /** Inputs while the engine turns, where they are others. */
  readonly turning?: readonly Readonly<Record<string, number>>[];
  /** Number of such devices on a vehicle against the others, as a prior. */
  readonly usual: number;
}

const MODULE_FEED = `BAT -- RD 4mm2 0.6m -- F1(10A) -- RD/YE 1mm2 0.8m -- KEY(switch run "main feed") -- BK/RD 1mm2 0.8m -- S1
ECM.E -- BN 1.5mm2 0.4m -- G2
G1 -- BK 35mm2 0.5m -- BAT`;
const fed = (pins: string): string => `ECM(module pin A supply, pin E ground, ${pins} "module")
${MODULE_FEED}
S1 -- BK/RD 1mm2 0.5m -- ECM.A`;
const wire = (from: string, to: string, colour = "GY"): string => `${from} -- ${colour} 0.75mm2 1.5m -- ${to}`;
const TRAVEL = [0.15, 0.5, 0.85];
const CELSIUS = [-10, 20, 60, 95];

export const PIN_KINDS: readonly PinKindGuess[] = [
  {
    id: "driven coil",
    words: "coil, valve or injector fed with the key and switched to ground by a module",
    pins: [
      { place: "D.1", role: "feed" },
      { place: "D.2", role: "control" },
    ],
    notation: `${fed("pin 3 low duty=0.3 hertz=20 when=engine=cranking/idling/atspeed")}
${wire("S1", "D(coil 14ohm).1")}
${wire("D.2", "ECM.3")}`,
    inputs: [{}],
    switches: [],
    usual: 3,
  },
  {
    id: "grounded load",
    words: "lamp, motor or heater switched in its feed, with a ground of its own",
    pins: [
      { place: "D.1", role: "switched feed" },
      { place: "D.2", role: "ground" },
    ],
    notation: `${fed("pin 3 input pullOhms=2200")}
S1 -- RD 1mm2 0.5m -- SW1(switch) -- RD/GN 1mm2 1.5m -- D(lamp 21W) -- BN 1mm2 0.6m -- G2
${wire("ECM.3", "SW2(switch)", "GY")} -- BN 0.5mm2 0.5m -- G2`,
    inputs: [{}],
    switches: ["SW1"],
    usual: 3,
  },
  {
    id: "temperature sensor",
    words: "temperature sensor (thermistor) pulled up by a module",
    pins: [
      { place: "D.1", role: "signal" },
      { place: "D.2", role: "sensor ground" },
    ],
    notation: `${fed("pin 3 input pullOhms=2200, pin 4 ground forSensors=true")}
${wire("ECM.3", "D(ntc).1")}
${wire("D.2", "ECM.4")}`,
    inputs: CELSIUS.map((D) => ({ D })),
    switches: [],
    usual: 3,
  },
  {
    id: "switch",
    words: "switch to ground, watched by a module",
    pins: [
      { place: "SWD.1", role: "signal" },
      { place: "SWD.2", role: "ground" },
    ],
    notation: `${fed("pin 3 input pullVolts=supply pullOhms=1000")}
${wire("ECM.3", "SWD(switch)")} -- BN 0.75mm2 0.6m -- G2`,
    inputs: [{}],
    switches: ["SWD"],
    usual: 2,
  },
  {
    id: "inductive sensor",
    words: "inductive speed or position sensor",
    pins: [
      { place: "D.1", role: "signal" },
      { place: "D.2", role: "signal, other end" },
    ],
    notation: `${fed("pin 3 input pull=none, pin 4 ground forSensors=true")}
${wire("ECM.3", "D(pickup).1")}
${wire("D.2", "ECM.4")}`,
    inputs: [{}],
    switches: [],
    usual: 2,
  },
  {
    id: "position sensor",
    words: "position or pressure sensor on a 5 V reference",
    pins: [
      { place: "D.P", role: "5 V reference" },
      { place: "D.W", role: "signal" },
      { place: "D.N", role: "sensor ground" },
    ],
    notation: `${fed("pin 2 reference, pin 3 input pull=down pullOhms=220000, pin 4 ground forSensors=true")}
${wire("ECM.2", "D(pot).P")}
${wire("D.W", "ECM.3")}
${wire("D.N", "ECM.4")}`,
    inputs: TRAVEL.map((D) => ({ D })),
    switches: [],
    usual: 3,
  },
  {
    id: "hall sensor",
    words: "switching speed or position sensor (Hall) on a 5 V reference",
    pins: [
      { place: "D.P", role: "5 V reference" },
      { place: "D.S", role: "signal" },
      { place: "D.N", role: "sensor ground" },
    ],
    notation: `${fed("pin 2 reference, pin 3 input pullOhms=4700, pin 4 ground forSensors=true")}
${wire("ECM.2", "D(hall).P")}
${wire("D.S", "ECM.3")}
${wire("D.N", "ECM.4")}`,
    inputs: [{ D: 0 }, { D: 1 }],
    turning: [{ D: 50 }],
    switches: [],
    usual: 2,
  },
  {
    id: "hall sensor on 12 V",
    words: "switching speed or position sensor (Hall) fed with the key",
    pins: [
      { place: "D.P", role: "feed" },
      { place: "D.S", role: "signal" },
      { place: "D.N", role: "sensor ground" },
    ],
    notation: `${fed("pin 3 input pullOhms=4700, pin 4 ground forSensors=true")}
${wire("S1", "D(hall).P")}
${wire("D.S", "ECM.3")}
${wire("D.N", "ECM.4")}`,
    inputs: [{ D: 0 }, { D: 1 }],
    turning: [{ D: 50 }],
    switches: [],
    usual: 1,
  },
  {
    id: "lin unit",
    words: "unit on a LIN line: feed, ground, line",
    pins: [
      { place: "D.1", role: "feed" },
      { place: "D.2", role: "ground" },
      { place: "D.3", role: "LIN line" },
    ],
    notation: `${fed("pin 3 lin master=true")}
D(module awakeAmps=0.05 pin 1 supply, pin 2 ground, pin 3 lin)
${wire("S1", "D.1")}
D.2 -- BN 0.75mm2 0.6m -- G2
${wire("ECM.3", "D.3")}`,
    inputs: [{}],
    switches: [],
    usual: 1,
  },
  {
    id: "twin lamp",
    words: "lamp with two filaments on one ground",
    pins: [
      { place: "L1.1", role: "switched feed" },
      { place: "L2.1", role: "switched feed" },
      { place: "S9", role: "ground" },
    ],
    notation: `BAT -- RD 4mm2 0.6m -- F1(15A) -- RD/YE 1.5mm2 0.8m -- S1
S1 -- RD 1mm2 0.5m -- SW1(switch) -- GY 1mm2 1.5m -- L1(lamp 5W) -- BN 1mm2 0.05m -- S9
S1 -- RD 1mm2 0.5m -- SW2(switch) -- BK 1mm2 1.5m -- L2(lamp 21W) -- BN 1mm2 0.05m -- S9
S9 -- BN 1mm2 0.6m -- G2
G1 -- BK 35mm2 0.5m -- BAT`,
    inputs: [{}],
    switches: ["SW1", "SW2"],
    usual: 1,
  },
  {
    id: "relay",
    words: "relay in its socket",
    pins: [
      { place: "D.30", role: "feed of the contact" },
      { place: "D.87", role: "to the load" },
      { place: "D.86", role: "coil" },
      { place: "D.85", role: "coil, other end" },
    ],
    notation: `${fed("pin 3 low when=engine=cranking/idling/atspeed")}
BAT -- RD 2.5mm2 0.8m -- F2(20A) -- RD 2.5mm2 0.4m -- D(relay).30
D.87 -- RD/GN 2.5mm2 2m -- LD1(motor 8A) -- BN 2.5mm2 0.6m -- G2
${wire("S1", "D.86")}
${wire("D.85", "ECM.3")}`,
    inputs: [{}],
    switches: [],
    usual: 3,
  },
  {
    id: "can module",
    words: "module on a CAN pair: feed, ground, CAN high, CAN low",
    pins: [
      { place: "D.1", role: "feed" },
      { place: "D.2", role: "ground" },
      { place: "D.H", role: "CAN high" },
      { place: "D.L", role: "CAN low" },
    ],
    notation: `${fed("pin H canh, pin L canl")}
D(module awakeAmps=0.1 pin 1 supply, pin 2 ground, pin H canh, pin L canl)
${wire("S1", "D.1")}
D.2 -- BN 0.75mm2 0.6m -- G2
${wire("ECM.H", "D.H", "YE")}
${wire("ECM.L", "D.L", "GN")}
ECM.H -- YE 0.5mm2 0.2m -- RT1(resistor ohms=120) -- GN 0.5mm2 0.2m -- ECM.L
D.H -- YE 0.5mm2 0.2m -- RT2(resistor ohms=120) -- GN 0.5mm2 0.2m -- D.L`,
    inputs: [{}],
    switches: [],
    usual: 1,
  },
  {
    id: "pressure and temperature",
    words: "pressure sensor with a temperature sensor in one housing",
    pins: [
      { place: "D.P", role: "5 V reference" },
      { place: "D.W", role: "pressure signal" },
      { place: "S9", role: "sensor ground" },
      { place: "T.1", role: "temperature signal" },
    ],
    notation: `${fed("pin 2 reference, pin 3 input pull=down pullOhms=220000, pin 4 ground forSensors=true, pin 5 input pullOhms=2200")}
${wire("ECM.2", "D(pot).P")}
${wire("D.W", "ECM.3")}
D.N -- BN 0.75mm2 0.05m -- S9
T(ntc).2 -- BN 0.75mm2 0.05m -- S9
${wire("S9", "ECM.4")}
${wire("T.1", "ECM.5")}`,
    inputs: TRAVEL.flatMap((D) => CELSIUS.map((T) => ({ D, T }))),
    switches: [],
    usual: 2,
  },
  {
    id: "double position sensor",
    words: "two position sensors on one reference (pedal, throttle)",
    pins: [
      { place: "S8", role: "5 V reference" },
      { place: "S9", role: "sensor ground" },
      { place: "D.W", role: "signal 1" },
      { place: "T.W", role: "signal 2" },
    ],
    notation: `${fed("pin 2 reference, pin 3 input pull=down pullOhms=220000, pin 4 ground forSensors=true, pin 5 input pull=down pullOhms=220000")}
${wire("ECM.2", "S8")}
S8 -- GY 0.75mm2 0.05m -- D(pot).P
S8 -- GY 0.75mm2 0.05m -- T(pot restShare=0.05 fullShare=0.45).P
D.N -- BN 0.75mm2 0.05m -- S9
T.N -- BN 0.75mm2 0.05m -- S9
${wire("S9", "ECM.4")}
${wire("D.W", "ECM.3")}
${wire("T.W", "ECM.5")}`,
    inputs: TRAVEL.map((D) => ({ D, T: D })),
    switches: [],
    usual: 1,
  },
  {
    id: "changeover relay",
    words: "changeover relay in its socket",
    pins: [
      { place: "D.30", role: "common of the contacts" },
      { place: "D.87", role: "contact when pulled in" },
      { place: "D.87a", role: "contact at rest" },
      { place: "D.86", role: "coil" },
      { place: "D.85", role: "coil, other end" },
    ],
    notation: `${fed("pin 3 low when=engine=cranking/idling/atspeed")}
BAT -- RD 2.5mm2 0.8m -- F2(20A) -- RD 2.5mm2 0.4m -- D(relay changeover=true).30
D.87 -- RD/GN 2.5mm2 2m -- LD1(motor 8A) -- BN 2.5mm2 0.6m -- G2
D.87a -- RD/YE 2.5mm2 2m -- LD2(lamp 21W) -- BN 2.5mm2 0.6m -- G2
${wire("S1", "D.86")}
${wire("D.85", "ECM.3")}`,
    inputs: [{}],
    switches: [],
    usual: 2,
  },
  {
    id: "actuator with position",
    words: "motor with its own position sensor (flap, exhaust valve)",
    pins: [
      { place: "D.P", role: "5 V reference" },
      { place: "D.W", role: "position signal" },
      { place: "D.N", role: "sensor ground" },
      { place: "M.1", role: "motor" },
      { place: "M.2", role: "motor, other end" },
    ],
    notation: `${fed("pin 2 reference, pin 3 input pull=down pullOhms=220000, pin 4 ground forSensors=true, pin 5 low duty=0.3 hertz=200 when=engine=cranking/idling/atspeed")}
${wire("ECM.2", "D(pot).P")}
${wire("D.W", "ECM.3")}
${wire("D.N", "ECM.4")}
${wire("S1", "M(coil 9ohm).1")}
${wire("M.2", "ECM.5")}`,
    inputs: TRAVEL.map((D) => ({ D })),
    switches: [],
    usual: 2,
  },
];
