import { type Harness, linkOf, lookupOf, netAt, partNameIn, partOfPlace, pinNameIn, wiresAt } from "../harness/index.ts";
import { at, called, devices, loadLinkOf, minusOf, opening, pinsBy, scaled, targetOf, waysOf, workingState } from "./finding.ts";
import { REFERENCE_CAUTION } from "./signals.ts";
import { links } from "./starting.ts";
import {
  AS_SOUND,
  drop,
  ENOUGH_VOLTS,
  optionOf,
  see,
  volts,
  word,
  type Choice,
  type Procedure,
  type Rule,
  type Step,
} from "./procedure.ts";
const LOGIC: Choice = {
  id: "order",
  asks: "Diagram first or logic first?",
  options: [
    {
      id: "diagram",
      words: "diagram first",
      why: "Which wire is which stands on the page; before power is put on anything it must. Usual here.",
    },
    {
      id: "logic",
      words: "logic first",
      why: "Three wires tell themselves apart: one stands at 5 V, one near 0 V, one moves. Two minutes, good to clear a sensor.",
    },
  ],
  usual: "diagram",
};

export const sensor: Procedure = {
  id: "three-wire-sensor",
  name: "Three-wire sensor",
  asks: "Does it have supply and return, and does its signal reach the module?",
  cautions: [REFERENCE_CAUTION],
  choices: [LOGIC],
  targetsOf: (h) => devices(h, "pot", "hall").map((c) => targetOf(h, c.id)),
  plan(setting) {
    const { harness: h, target, state } = setting;
    const run = at(state, { key: "run" });
    const minus = minusOf(h);
    const [supply] = pinsBy(h, target, "reference", "feed");
    const [back] = pinsBy(h, target, "ground");
    const [signal] = pinsBy(h, target, "signal");
    if (supply === undefined || back === undefined || signal === undefined) return { steps: [], rules: [] };
    const there = netAt(h, signal)?.places.find((p) => isModule(h, p));
    const power: Step[] = [
      volts("supply", "Key on, plugged in; supply against its own return", run, supply, back, AS_SOUND),
      volts("return", "Same; return against battery negative", run, back, minus, drop("joint")),
    ];
    const off = opening(run, target);
    const alone: Step[] = [
      volts("supply alone", "Key off, unplug the sensor, key on; supply wire against battery negative", off, supply, minus, AS_SOUND, {
        only: { supply: "bad" },
      }),
      see(
        "signal ohms",
        "Key off, plug off the sensor; ohms from the signal wire to battery negative",
        opening(at(state, {}), target),
        { kind: "ohms", red: signal, black: minus },
        AS_SOUND,
        { only: { signal: "bad" } },
      ),
      volts("signal alone", "Key off, unplug the sensor, key on; signal wire against battery negative", off, signal, minus, AS_SOUND, {
        only: { signal: "bad" },
      }),
    ];
    const answer: Step[] = [
      volts("signal", "Same; signal against its own return", run, signal, back, AS_SOUND),
      ...(there === undefined
        ? []
        : [
            see(
              "seen",
              "What the module says that it sees there",
              run,
              { kind: "live", module: partNameIn(there), pin: pinNameIn(there) },
              { kind: "same as", step: "signal", within: 0.15 },
            ),
          ]),
      see(
        "moves",
        "Move what it measures: does the signal follow evenly?",
        run,
        { kind: "check", at: target, what: "signal follows without gaps" },
        word("as it should be"),
      ),
    ];
    return {
      steps: optionOf(LOGIC, setting) === "logic" ? [...answer, ...power, ...alone] : [...power, ...answer, ...alone],
      rules: [
        {
          when: { return: "bad" },
          words: "Its return is lifted: every sensor on it reads wrong.",
          points: wiresAt(h, back).map((w) => w.id),
        },
        {
          when: { supply: "bad", "supply alone": "good" },
          words: "The supply comes back with its plug off: the sensor pulls it down.",
          points: [target],
        },
        {
          when: { supply: "bad" },
          words: "Its supply is not what it should be: go on with the reference.",
          points: wiresAt(h, supply).map((w) => w.id),
        },
        {
          when: { seen: "bad" },
          words: "The module sees something else than stands at the sensor: the signal wire.",
          points: wiresAt(h, signal).map((w) => w.id),
        },
        {
          when: { signal: "bad", "signal ohms": "bad" },
          words: "The signal wire does not show the ohms of the module alone: it touches something, or is open.",
          points: wiresAt(h, signal).map((w) => w.id),
        },
        {
          when: { signal: "bad", "signal alone": "bad" },
          words: "The signal wire stands wrong by itself: it touches something, or is open.",
          points: wiresAt(h, signal).map((w) => w.id),
        },
        {
          when: { supply: "good", return: "good", signal: "bad", "signal alone": "good", "signal ohms": "good" },
          words: "Supply, return and the wire by itself are good and the signal is not: the sensor.",
          points: [target],
        },
        { when: { moves: "bad" }, words: "Gaps in its track: the sensor.", points: [target] },
        { when: {}, words: "Sensor and its three wires are good.", points: [], sound: true },
      ],
    };
  },
};

const isModule = (h: Harness, place: string): boolean => {
  const part = partOfPlace(h, place);
  return part?.kind === "device" && part.device === "module";
};

export const ntc: Procedure = {
  id: "ntc",
  name: "Temperature sensor: thermometer, unplug, bridge",
  asks: "Is it the sensor, its wires or the module?",
  cautions: [
    "Bridge only the sensor’s two own wires, plug off, through a fused lead: never to a feed.",
    "Hot parts and coolant under pressure near it.",
  ],
  choices: [],
  targetsOf: (h) => devices(h, "ntc").flatMap((c) => (signalAt(h, c.id) === undefined ? [] : [targetOf(h, c.id)])),
  plan({ harness: h, target, state }) {
    const run = at(state, { key: "run" });
    const found = signalAt(h, target);
    if (found === undefined) return { steps: [], rules: [] };
    const live = { kind: "live", module: partNameIn(found), pin: pinNameIn(found) } as const;
    const own = [`${target}.1`, `${target}.2`] as const;
    const off = opening(run, target);
    const wires = own.flatMap((p) => wiresAt(h, p).map((w) => w.id));
    return {
      steps: [
        see(
          "world",
          "Infrared thermometer on a painted or taped spot of the casting beside it (bare metal misreads), against the value that the module gives",
          run,
          { kind: "check", at: target, what: "value agrees with the thermometer within 5 °C" },
          word("as it should be"),
          {
            because: "A cold engine that stood overnight should give the ambient on every sensor.",
          },
        ),
        see("unplugged", "Key off, unplug it, key on: the module must go to its coldest", off, live, AS_SOUND, { only: { world: "bad" } }),
        see(
          "bridged",
          "Key off, bridge its two wires, key on: the module must go to its hottest",
          { ...off, bridged: [[own[0], own[1]]] },
          live,
          AS_SOUND,
          {
            only: { world: "bad" },
            knowingly: true,
          },
        ),
        see(
          "ohms",
          "Key off, sensor unplugged: its own ohms against its table at this temperature",
          off,
          { kind: "check", at: target, what: "ohms as in the table" },
          word("as it should be"),
          { only: { world: "bad" } },
        ),
      ],
      rules: [
        { when: { world: "good" }, words: "It agrees with the world: not the sensor.", points: [], sound: true },
        {
          when: { unplugged: "bad" },
          words: "It does not go to its coldest with the plug off: the wire is grounded or the module’s pull-up is lost.",
          points: wires,
        },
        {
          when: { bridged: "bad" },
          words: "It does not go to its hottest when bridged: a break or resistance in one of its two wires.",
          points: wires,
        },
        { when: { unplugged: "good", bridged: "good" }, words: "Wires and module follow from end to end: the sensor.", points: [target] },
      ],
    };
  },
};

const signalAt = (h: Harness, sensorId: string): string | undefined =>
  [`${sensorId}.1`, `${sensorId}.2`].flatMap(
    (p) => netAt(h, p)?.places.filter((x) => isModule(h, x) && lookupOf(h).parts.get(partNameIn(x)) !== undefined && !isReturn(h, x)) ?? [],
  )[0];

const isReturn = (h: Harness, place: string): boolean => pinsBy(h, partNameIn(place), "ground").includes(place);

export const driver: Procedure = {
  id: "coil-control",
  name: "Coil and injector control",
  asks: "Feed good, command pulsed, and then: the part or its wire?",
  cautions: [
    "Ignition voltage can kill: nobody holds coil or lead while it is driven.",
    "An LED tester, no filament lamp, on a module’s output. Before a new coil goes in, the wire is proven: a command held to ground burns the next one too.",
  ],
  choices: [],
  targetsOf: (h) => devices(h, "coil", "injector").flatMap((c) => (waysOf(h, c.id) === undefined ? [] : [targetOf(h, c.id)])),
  plan({ harness: h, target, state }) {
    const ways = waysOf(h, target)!;
    const on = workingState(h, target, at(state, { key: "run", engine: "idling" }));
    const still = at(state, { key: "run" });
    const minus = minusOf(h);
    const link = loadLinkOf(h, target)!;
    const control = linkOf(h, link)!.a === ways.near ? linkOf(h, link)!.b : linkOf(h, link)!.a;
    const wires = wiresAt(h, control).map((w) => w.id);
    return {
      steps: [
        volts("feed", "While it should work; feed pin", on, ways.near, minus, ENOUGH_VOLTS),
        volts("command", "Same; mean volts at the control pin", on, control, minus, AS_SOUND, {
          because:
            "Pulses pull the mean below the feed: equal to the feed, nobody commands, or the pulses are too short for a meter: confirm with an LED tester or a scope. At zero, it is held.",
        }),
        volts("held", "Key on, engine stopped; control pin", still, control, minus, AS_SOUND, {
          because: "At rest it must stand at its feed: low, the wire or the driver holds it on.",
        }),
        volts(
          "wire",
          "Key off, unplug the part, key on; control wire at the plug",
          opening(still, target),
          control,
          minus,
          { kind: "between", low: -0.3, high: scaled(h, 16) },
          { only: { held: "bad" } },
        ),
        see("works", "What it does", on, { kind: "part", part: target }, AS_SOUND),
      ],
      rules: [
        { when: { feed: "bad" }, words: "No good feed.", points: links(h, target, "feed") },
        {
          when: { held: "bad" },
          words: "Its control is held: unplug the module; still held, the wire is grounded; free, the driver.",
          points: wires,
        },
        { when: { command: "bad" }, words: "No command at its pin, or not a sound one: compare with the module’s end.", points: wires },
        {
          when: { feed: "good", command: "good", works: "bad" },
          words: "Feed and command are good and it does not work: the part.",
          points: [target],
        },
        { when: {}, words: "Feed, command and part are good.", points: [], sound: true },
      ],
    };
  },
};

export const wiggle: Procedure = {
  id: "wiggle",
  name: "Intermittent, by moving the loom",
  asks: "Which stretch, plug or ground does it come and go with?",
  cautions: [
    "Moving a harness may rock the engine and move a strap somewhere else: move one spot, hold the rest, and do it twice.",
    "Clear of belts, fans and hot parts while the engine runs.",
  ],
  choices: [],
  targetsOf: (h) =>
    h.components.flatMap((c) => ((c.kind === "load" || c.kind === "device") && waysOf(h, c.id) !== undefined ? [targetOf(h, c.id)] : [])),
  plan({ harness: h, target, state }) {
    const ways = waysOf(h, target)!;
    const on = workingState(h, target, state);
    const hops = [...ways.feed, ...ways.ground];
    const spots = new Map<string, string[]>();
    const add = (spot: string, link: string): void => void spots.set(spot, [...(spots.get(spot) ?? []), link]);
    for (const { link } of hops) {
      for (const s of lookupOf(h).wires.get(link.id)?.segments ?? []) add(s, link.id);
      const part = lookupOf(h).parts.get(partNameIn(link.id));
      if (part?.kind === "connector" || part?.kind === "ground") add(part.id, link.id);
    }
    const loom = (id: string): string => h.looms?.find((l) => l.id === id)?.text ?? called(h, id);
    return {
      steps: [
        ...[...spots.keys()].map((id) =>
          see(`at ${id}`, `Watch the reading and move ${loom(id)}`, on, { kind: "wiggle", at: id }, word("steady"), {
            because:
              "Reproduce the fault first: load, heat, water, as in the complaint. The wiggle test records reading and hands together.",
          }),
        ),
      ],
      rules: [
        ...[...spots].map(([id, points]): Rule => ({
          when: { [`at ${id}`]: "bad" },
          words: `Intermittent, and it changes with ${loom(id)}.`,
          points,
        })),
        { when: {}, words: "Nothing moved it. Heat, cold or water are next; or it is in the part.", points: [], sound: true },
      ],
    };
  },
};
