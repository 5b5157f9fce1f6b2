import { cableFor, fuseFor, type Field, type Reader, type Template } from "./template.ts";

const NAME: Field = { id: "name", label: "What it is", kind: "text", default: "Fan" };
const nominal: Field = {
  id: "volts",
  label: "System",
  kind: "choice",
  default: "12",
  choices: [
    { id: "12", text: "12 V" },
    { id: "24", text: "24 V" },
  ],
};
const amps = (value: string): Field => ({ id: "amps", label: "Current of the load", kind: "number", unit: "A", default: value });
const metres = (id: string, label: string, value: string): Field => ({ id, label, kind: "number", unit: "m", default: value });
const loadKind: Field = {
  id: "load",
  label: "Load",
  kind: "choice",
  default: "motor",
  choices: ["motor", "lamp", "heater", "coil", "load"].map((id) => ({ id, text: id })),
};
const inline: Field = {
  id: "inline",
  label: "Connector on the way",
  kind: "choice",
  default: "yes",
  choices: [
    { id: "yes", text: "yes" },
    { id: "no", text: "no" },
  ],
};

const head = (a: Reader, what: string): string[] => [`circuit "${what}: ${a.text("name")}"`, `nominal ${a.text("volts")}V`];
const supply = (a: Reader, areaMm2 = 35): string => `G1("battery") -- ${a.wire("BK", areaMm2, 0.5)} -- BAT`;
/** The way through an inline connector, or straight. */
const through = (a: Reader, cavity: string, wire: (length: number) => string, length: number): string =>
  a.text("inline") === "yes" ? `${wire(round(length * 0.6))} -- ${cavity} -- ${wire(round(length * 0.4))}` : wire(length);
const round = (x: number): number => Math.max(0.05, Math.round(x * 100) / 100);

const SENSORS = [
  { id: "pot", text: "position or pressure (three wires)" },
  { id: "hall", text: "speed or position, switching (three wires)" },
  { id: "ntc", text: "temperature (two wires)" },
];

export const TEMPLATES: readonly Template[] = [
  {
    id: "fused-load",
    name: "Fused feed and load",
    about: "Battery, fuse, switch, load, ground.",
    fields: [NAME, nominal, loadKind, amps("8"), metres("feed", "Feed wire", "3"), metres("return", "Ground wire", "0.8"), inline],
    lines: (a) => {
      const area = cableFor(a.number("amps"));
      return [
        ...head(a, "Fused load"),
        `BAT -- ${a.wire("RD", Math.max(4, area), 0.6)} -- F1(${fuseFor(a.number("amps"))}A) -- ${a.wire("RD/YE", area, 0.8)} -- SW1(switch "${a.text("name")} switch") -- ${through(a, "C1.1", (l) => a.wire("RD/GN", area, l), a.number("feed"))} -- LD1(${a.text("load")} ${a.number("amps")}A "${a.text("name")}") -- ${a.wire("BK", area, a.number("return"))} -- G2`,
        supply(a),
      ];
    },
  },
  {
    id: "relay",
    name: "Relay circuit",
    about: "Load fed through a relay; its coil by a switch or a module.",
    fields: [
      NAME,
      nominal,
      loadKind,
      amps("15"),
      {
        id: "command",
        label: "Commanded by",
        kind: "choice",
        default: "switch",
        choices: [
          { id: "switch", text: "a switch in the feed of the coil" },
          { id: "ground", text: "a switch to ground" },
          { id: "module", text: "a module" },
        ],
      },
      {
        id: "suppression",
        label: "Across the coil",
        kind: "choice",
        default: "diode",
        choices: [
          { id: "diode", text: "diode" },
          { id: "resistor", text: "resistor" },
          { id: "none", text: "nothing" },
        ],
      },
      metres("feed", "Wire from relay to load", "3"),
      metres("return", "Ground wire", "0.6"),
      inline,
    ],
    lines: (a) => {
      const area = cableFor(a.number("amps"));
      const by = a.text("command");
      const coil =
        by === "switch"
          ? [
              `S1 -- RD 1mm2 0.3m -- F2(5A "control") -- RD/YE 0.75mm2 0.5m -- SW1(switch) -- YE 0.75mm2 0.9m -- R1.86`,
              `R1.85 -- BN 0.75mm2 0.5m -- G3`,
            ]
          : by === "ground"
            ? [
                `S1 -- RD 1mm2 0.3m -- F2(5A "control") -- RD/YE 0.75mm2 0.5m -- R1.86`,
                `R1.85 -- BN/YE 0.75mm2 0.9m -- SW1(switch) -- BN 0.75mm2 0.5m -- G3`,
              ]
            : [
                `ECM(module pin 1 supply, pin 2 ground, pin 3 low when=4<4, pin 4 input pullVolts=supply pullOhms=1000 "module")`,
                `S1 -- RD 1mm2 0.3m -- F2(10A "control") -- RD/YE 1mm2 0.4m -- S2`,
                `S2 -- RD/YE 0.75mm2 0.3m -- R1.86 ; S2 -- RD/YE 1mm2 0.5m -- ECM.1`,
                `R1.85 -- GN/YE 0.75mm2 0.9m -- ECM.3`,
                `ECM.2 -- BN 1mm2 0.5m -- G3 ; ECM.4 -- GY 0.5mm2 0.6m -- SW1(switch "request") -- BN 0.5mm2 0.4m -- G3`,
              ];
      return [
        ...head(a, "Relay"),
        `BAT -- ${a.wire("RD", Math.max(6, area), 0.6)} -- S1`,
        `S1 -- ${a.wire("RD", area, 0.4)} -- F1(${fuseFor(a.number("amps"))}A) -- ${a.wire("RD/WH", area, 0.5)} -- R1(relay suppression=${a.text("suppression")} coilOhms=${a.text("volts") === "24" ? 300 : 85}).30`,
        `R1.87 -- ${through(a, "C1.1", (l) => a.wire("RD/GN", area, l), a.number("feed"))} -- LD1(${a.text("load")} ${a.number("amps")}A "${a.text("name")}") -- ${a.wire("BK", area, a.number("return"))} -- G2`,
        ...coil,
        supply(a),
      ];
    },
  },
  {
    id: "starter",
    name: "Starter circuit",
    about: "Starter with solenoid, start relay, inhibit switch, engine strap.",
    fields: [
      { ...NAME, default: "engine" },
      nominal,
      { id: "litres", label: "Engine", kind: "number", unit: "l", default: "2" },
      {
        id: "fuel",
        label: "Fuel",
        kind: "choice",
        default: "petrol",
        choices: [
          { id: "petrol", text: "petrol" },
          { id: "diesel", text: "diesel" },
        ],
      },
      metres("cable", "Starter cable", "1.4"),
      {
        id: "inhibit",
        label: "Inhibit switch",
        kind: "choice",
        default: "clutch",
        choices: [
          { id: "clutch", text: "clutch" },
          { id: "range", text: "park or neutral" },
          { id: "none", text: "none" },
        ],
      },
    ],
    lines: (a) => {
      const inhibit = a.text("inhibit") === "none" ? "" : `SW1(switch "${a.text("inhibit")} switch") -- BU/RD 1mm2 1.2m -- `;
      return [
        ...head(a, "Starter"),
        `BAT -- ${a.wire("RD", 50, a.number("cable"))} -- STA(starter engineLitres=${a.number("litres")} diesel=${String(a.text("fuel") === "diesel")} "starter").30`,
        `STA.31 -- G3(on engine "bell housing")`,
        `G2(on engine "engine strap") -- BK 50mm2 0.6m -- BAT`,
        `G4("battery tray") -- BK 25mm2 0.3m -- BAT`,
        `BAT -- RD 6mm2 0.4m -- S1`,
        `S1 -- RD 2.5mm2 0.5m -- F1(30A "start relay") -- RD/WH 2.5mm2 0.4m -- R1(relay suppression=diode coilOhms=${a.text("volts") === "24" ? 300 : 85} "start relay").30`,
        `R1.87 -- BK/YE 4mm2 1.2m -- C1.1 -- BK/YE 4mm2 0.4m -- STA.50`,
        `S1 -- RD 2.5mm2 0.6m -- F2(10A "ignition switch") -- RD/YE 1.5mm2 0.9m -- IGN(switch crank "ignition switch, start") -- BU/YE 1mm2 1.1m -- ${inhibit}R1.86`,
        `R1.85 -- BN 0.75mm2 0.4m -- G4`,
      ];
    },
  },
  {
    id: "charging",
    name: "Charging circuit",
    about: "Alternator with lamp wire, command and monitor, or LIN.",
    fields: [
      { ...NAME, default: "alternator" },
      nominal,
      {
        id: "control",
        label: "Controlled by",
        kind: "choice",
        default: "lamp",
        choices: [
          { id: "lamp", text: "charge lamp wire" },
          { id: "command", text: "command and monitor wires" },
          { id: "lin", text: "LIN" },
        ],
      },
      { id: "amps", label: "Rated current", kind: "number", unit: "A", default: "120" },
      metres("cable", "Charge cable", "1.6"),
    ],
    lines: (a) => {
      const control = a.text("control");
      const module = [
        `F2(10A "engine module") -- RD/WH 1mm2 0.8m -- IGN(switch run "ignition feed") -- BK/RD 1mm2 0.9m -- ECM.1`,
        `BAT -- RD 2.5mm2 0.4m -- F2`,
        `ECM.2 -- BN 1.5mm2 0.4m -- G3`,
      ];
      const lines =
        control === "lamp"
          ? [
              `BAT -- RD 2.5mm2 0.6m -- F2(10A) -- RD/YE 1mm2 0.9m -- IGN(switch run "ignition feed") -- YE 1mm2 0.6m -- L1(lamp 3W "charge lamp") -- BU/WH 0.75mm2 1.6m -- C1.1 -- BU/WH 0.75mm2 0.9m -- ALT.L`,
            ]
          : control === "command"
            ? [
                `ECM(module pin 1 supply, pin 2 ground, pin 3 high biasOhms=200000 when=engine=idling/atspeed, pin 4 input pullVolts=supply pullOhms=1000 "engine module")`,
                ...module,
                `ALT.C -- WH/GN 0.75mm2 0.9m -- C1.1 -- WH/GN 0.75mm2 0.9m -- ECM.3`,
                `ALT.M -- WH/BU 0.75mm2 0.9m -- C1.2 -- WH/BU 0.75mm2 0.9m -- ECM.4`,
              ]
            : [
                `ECM(module pin 1 supply, pin 2 ground, pin N lin master=true "engine module")`,
                ...module,
                `ALT.LIN -- WH/GN 0.75mm2 0.9m -- C1.1 -- WH/GN 0.75mm2 0.9m -- ECM.N`,
              ];
      return [
        ...head(a, "Charging"),
        `BAT -- RD 35mm2 0.4m -- F1(${fuseFor(a.number("amps"))}A "main link") -- ${a.wire("RD", a.number("amps") > 100 ? 35 : 25, a.number("cable"))} -- ALT(alternator control=${control} ratedAmps=${a.number("amps")} "alternator").B+`,
        `ALT.31 -- G2(on engine "bracket")`,
        `G4(on engine "engine strap") -- BK 50mm2 0.7m -- BAT`,
        `G3("battery tray") -- BK 35mm2 0.4m -- BAT`,
        ...lines,
        `BAT -- RD 6mm2 0.6m -- F3(30A "consumers") -- RD/GN 4mm2 0.9m -- SW1(switch "consumers on") -- RD/GN 4mm2 0.8m -- H1(heater 20A "consumers") -- BN 4mm2 0.5m -- G3`,
      ];
    },
  },
  {
    id: "reference",
    name: "5 V reference with sensors",
    about: "One reference and one sensor ground, any number of three-wire sensors and temperature sensors.",
    fields: [
      { ...NAME, default: "engine sensors" },
      nominal,
      {
        id: "sensors",
        label: "Three-wire sensors",
        kind: "list",
        default: "pedal, rail pressure, boost pressure",
        help: "names with commas",
      },
      { id: "switching", label: "Of these, switching (Hall)", kind: "list", default: "", help: "the same names" },
      { id: "temperature", label: "Temperature sensors", kind: "list", default: "coolant", help: "names with commas" },
      metres("wire", "Wire to each sensor", "1.2"),
    ],
    lines: (a) => {
      const hall = new Set(a.list("switching").map((s) => s.toLowerCase()));
      const three = a.list("sensors");
      const two = a.list("temperature");
      const l = a.number("wire");
      const pins = [
        ...three.map((s, i) => `pin B${i + 3} input ${hall.has(s.toLowerCase()) ? "pullOhms=4700" : "pull=down pullOhms=220000"}`),
        ...two.map((_, i) => `pin T${i + 1} input pullOhms=2200`),
      ];
      return [
        ...head(a, "5 V reference"),
        `ECM(module pin A1 supply, pin A2 ground, pin B1 reference, pin B2 ground forSensors=true${pins.map((p) => `, ${p}`).join("")} "module")`,
        `BAT -- RD 4mm2 0.6m -- F1(10A "module") -- RD/YE 1mm2 0.8m -- KEY(switch run "main feed") -- BK/RD 1mm2 0.8m -- ECM.A1`,
        `ECM.A2 -- BN 1.5mm2 0.4m -- G2`,
        `ECM.B1 -- GY 0.5mm2 0.7m -- C1.1 -- GY 0.5mm2 0.4m -- S1("reference")`,
        `ECM.B2 -- BN/GY 0.5mm2 0.7m -- C1.2 -- BN/GY 0.5mm2 0.4m -- S2("sensor ground")`,
        ...three.flatMap((s, i) => {
          const id = `SE${i + 1}`;
          const isHall = hall.has(s.toLowerCase());
          const signal = isHall ? "S" : "W";
          return [
            `S1 -- GY 0.5mm2 ${l}m -- ${id}(${isHall ? "hall" : "pot"} "${s}").P`,
            `S2 -- BN/GY 0.5mm2 ${l}m -- ${id}.N`,
            `${id}.${signal} -- WH/${TRACERS[i % TRACERS.length]} 0.5mm2 ${l}m -- C1.${i + 3} -- WH/${TRACERS[i % TRACERS.length]} 0.5mm2 0.7m -- ECM.B${i + 3}`,
          ];
        }),
        ...two.flatMap((s, i) => [
          `TS${i + 1}(ntc "${s} temperature").1 -- VT/${TRACERS[i % TRACERS.length]} 0.5mm2 ${l}m -- C1.${three.length + i + 3} -- VT/${TRACERS[i % TRACERS.length]} 0.5mm2 0.7m -- ECM.T${i + 1}`,
          `TS${i + 1}.2 -- BN/GY 0.5mm2 ${l}m -- S2`,
        ]),
        supply(a),
      ];
    },
  },
  {
    id: "sensor",
    name: "Sensor and module",
    about: "One sensor with its own wires.",
    fields: [
      { ...NAME, default: "coolant temperature" },
      nominal,
      { id: "sort", label: "Sensor", kind: "choice", default: "ntc", choices: SENSORS },
      metres("wire", "Wires", "1.8"),
      inline,
    ],
    lines: (a) => {
      const sort = a.text("sort");
      const l = a.number("wire");
      const input = sort === "pot" ? "pull=down pullOhms=220000" : sort === "hall" ? "pullOhms=4700" : "pullOhms=2200";
      const via = (colour: string, cavity: number): string => through(a, `C1.${cavity}`, (m) => a.wire(colour, 0.5, m), l);
      const sensor = `SE1(${sort} "${a.text("name")}")`;
      return [
        ...head(a, "Sensor"),
        `ECM(module pin A1 supply, pin A2 ground, ${sort === "ntc" ? "" : "pin B1 reference, "}pin B2 ground forSensors=true, pin B3 input ${input} "module")`,
        `BAT -- RD 4mm2 0.6m -- F1(10A "module") -- RD/YE 1mm2 0.8m -- KEY(switch run "main feed") -- BK/RD 1mm2 0.8m -- ECM.A1`,
        `ECM.A2 -- BN 1.5mm2 0.4m -- G2`,
        ...(sort === "ntc"
          ? [`ECM.B3 -- ${via("VT/WH", 1)} -- ${sensor}.1`, `SE1.2 -- ${via("BN/GY", 2)} -- ECM.B2`]
          : [
              `ECM.B1 -- ${via("GY", 1)} -- ${sensor}.P`,
              `SE1.${sort === "hall" ? "S" : "W"} -- ${via("WH/BU", 3)} -- ECM.B3`,
              `SE1.N -- ${via("BN/GY", 2)} -- ECM.B2`,
            ]),
        supply(a),
      ];
    },
  },
  {
    id: "driver",
    name: "Coil or injector under a module",
    about: "Fed with the key, switched to ground by the module.",
    fields: [
      { ...NAME, default: "valve" },
      nominal,
      {
        id: "load",
        label: "What is switched",
        kind: "choice",
        default: "coil",
        choices: [
          { id: "coil", text: "valve or relay coil" },
          { id: "injector", text: "injector" },
          { id: "ignition", text: "ignition coil" },
        ],
      },
      { id: "ohms", label: "Resistance", kind: "number", unit: "Ω", default: "14" },
      { id: "duty", label: "On for", kind: "number", unit: "%", default: "30", help: "100: steady" },
      metres("wire", "Wires", "1.5"),
      inline,
    ],
    lines: (a) => {
      const kind = a.text("load");
      const duty = Math.min(100, a.number("duty")) / 100;
      const part =
        kind === "coil"
          ? `LD1(coil ${a.number("ohms")}ohm "${a.text("name")}")`
          : kind === "injector"
            ? `LD1(injector ohms=${a.number("ohms")} "${a.text("name")}")`
            : `LD1(ignition primaryOhms=${a.number("ohms")} "${a.text("name")}")`;
      const [enter, leave] = kind === "ignition" ? [".15", ".1"] : [".1", ".2"];
      const pulse = duty < 1 ? ` duty=${duty} hertz=${kind === "coil" ? 100 : 12}` : "";
      const clamp = kind === "ignition" ? " clampVolts=380" : "";
      return [
        ...head(a, "Driver"),
        `ECM(module pin 1 supply, pin 2 ground, pin 3 low${pulse}${clamp} when=engine=cranking/idling/atspeed "module")`,
        `BAT -- RD 4mm2 0.6m -- F1(15A) -- RD/YE 1.5mm2 0.8m -- KEY(switch run "main feed") -- BK/RD 1.5mm2 0.5m -- S1`,
        `S1 -- BK/RD 1mm2 0.5m -- ECM.1`,
        `ECM.2 -- BN 1.5mm2 0.4m -- G2`,
        `S1 -- ${through(a, "C1.1", (l) => a.wire("BK/RD", 1, l), a.number("wire"))} -- ${part}${enter}`,
        `LD1${leave} -- ${through(a, "C1.2", (l) => a.wire("GN/WH", 1, l), a.number("wire"))} -- ECM.3`,
        ...(kind === "ignition" ? ["LD1.E -- BN 1mm2 0.3m -- G2"] : []),
        supply(a),
      ];
    },
  },
  {
    id: "bus",
    name: "Bus with modules",
    about: "CAN pair with two terminators, or one LIN line with its master.",
    fields: [
      { ...NAME, default: "body bus" },
      nominal,
      {
        id: "bus",
        label: "Bus",
        kind: "choice",
        default: "can",
        choices: [
          { id: "can", text: "CAN" },
          { id: "lin", text: "LIN" },
        ],
      },
      {
        id: "modules",
        label: "Modules",
        kind: "list",
        default: "engine, body, cluster, brakes",
        help: "names with commas; the first is the master of a LIN line",
      },
    ],
    lines: (a) => {
      const names = a.list("modules");
      const isCan = a.text("bus") === "can";
      const feed = [
        'BAT -- RD 6mm2 0.6m -- F1(20A "modules") -- RD/YE 2.5mm2 0.9m -- KEY(switch run "feed") -- BK/RD 2.5mm2 0.6m -- S1("feed")',
      ];
      const modules = names.flatMap((name, i) => {
        const id = `M${i + 1}`;
        const pins = isCan ? "pin H canh, pin L canl" : `pin N lin${i === 0 ? " master=true" : ""}`;
        return [
          `${id}(module awakeAmps=0.2 pin 1 supply, pin 2 ground, ${pins} "${name}")`,
          `S1 -- BK/RD 0.75mm2 ${round(0.6 + 0.3 * i)}m -- ${id}.1`,
          `${id}.2 -- BN 0.75mm2 0.5m -- ${i < names.length / 2 ? "G2" : "G3"}`,
          ...(isCan
            ? [`${id}.H -- YE/GN 0.5mm2 ${round(0.5 + 0.2 * i)}m -- S2`, `${id}.L -- GN 0.5mm2 ${round(0.5 + 0.2 * i)}m -- S3`]
            : [`${id}.N -- GN/WH 0.5mm2 ${round(0.5 + 0.2 * i)}m -- S2`]),
        ];
      });
      const ends = isCan
        ? [
            `S2("CAN high") -- YE/GN 0.5mm2 0.4m -- RT1(resistor ohms=120 "terminator 1") -- GN 0.5mm2 0.4m -- S3("CAN low")`,
            `S2 -- YE/GN 0.5mm2 0.9m -- RT2(resistor ohms=120 "terminator 2") -- GN 0.5mm2 0.9m -- S3`,
          ]
        : [`S2(splice "LIN")`];
      return [...head(a, isCan ? "CAN" : "LIN"), ...feed, ...modules, ...ends, supply(a)];
    },
  },
  {
    id: "ground",
    name: "Ground fan-in",
    about: "Several loads whose grounds meet in a splice and one stud.",
    fields: [
      { ...NAME, default: "rear lamps" },
      nominal,
      { id: "loads", label: "Lamps", kind: "list", default: "tail, stop, turn signal, reverse", help: "names with commas" },
      { id: "watts", label: "Each", kind: "number", unit: "W", default: "21" },
      metres("return", "Common ground wire", "0.8"),
      inline,
    ],
    lines: (a) => {
      const names = a.list("loads");
      const total = (names.length * a.number("watts")) / Number(a.text("volts"));
      const common = through(a, "C1.1", (l) => a.wire("BN", cableFor(total), l), a.number("return"));
      return [
        ...head(a, "Ground fan-in"),
        `BAT -- ${a.wire("RD", Math.max(4, cableFor(total)), 0.6)} -- F1(${fuseFor(total)}A) -- ${a.wire("RD/GY", cableFor(total), 0.9)} -- S1`,
        ...names.map(
          (n, i) =>
            `S1 -- RD/GY 1mm2 0.3m -- SW${i + 1}(switch "${n} switch") -- ${a.wire(`GY/${TRACERS[i % TRACERS.length]}`, 1, 2.5)} -- L${i + 1}(lamp ${a.number("watts")}W "${n}") -- BN 1mm2 0.3m -- S2`,
        ),
        `S2("ground splice") -- ${common} -- G2`,
        supply(a),
      ];
    },
  },
];

const TRACERS = ["BU", "GN", "RD", "YE", "BK", "VT", "OG", "BN", "PK", "TQ"] as const;
