import { busMap, type Harness, lookupOf, netAt, partNameIn, partOfPlace, wiresAt } from "../harness/index.ts";
import { at, called, devices, isMeasurable, minusOf, opening, pinsBy, plugsBehind } from "./finding.ts";
import { AS_SOUND, optionOf, see, volts, word, type Procedure, type Rule, type Step } from "./procedure.ts";

const MOST_UNPLUGGED = 12;
export const REFERENCE_CAUTION = "A reference gives milliamps: no lamp, no feed, no ground on it. Voltmeter only.";

/** Parts on the copper of a place, other than its own. */
const hangingOn = (h: Harness, place: string): readonly string[] => {
  const net = netAt(h, place);
  const own = partNameIn(place);
  return [...new Set((net?.places ?? []).flatMap((p) => partOfPlace(h, p) ?? []))]
    .filter((c) => c.id !== own && (c.kind === "device" || c.kind === "load"))
    .map((c) => c.id);
};

export const reference: Procedure = {
  id: "reference",
  name: "5 V reference, by unplugging",
  asks: "What pulls the sensor reference down?",
  cautions: [REFERENCE_CAUTION, "Sensors on sheets of options count too: all that hang on it, not only those on the page."],
  choices: [],
  targetsOf: (h) =>
    devices(h, "module").flatMap((c) => pinsBy(h, c.id, "reference").map((p) => ({ element: p, words: `${p} of ${called(h, c.id)}` }))),
  plan({ harness: h, target, state }) {
    const run = at(state, { key: "run" });
    const minus = minusOf(h);
    const module = partNameIn(target);
    const users = hangingOn(h, target).slice(0, MOST_UNPLUGGED);
    const plugs = plugsBehind(h, target).filter((id) => lookupOf(h).parts.get(id)?.kind === "connector");
    return {
      steps: [
        volts("reference", "Key on; at the module’s pin, back-probed, black on battery negative", run, target, minus, AS_SOUND),
        ...users.map((id) =>
          volts(
            `without ${id}`,
            `Key off, unplug ${called(h, id)}, key on, repeat; leave it unplugged`,
            opening(run, ...users.slice(0, users.indexOf(id) + 1)),
            target,
            minus,
            AS_SOUND,
            { only: { reference: "bad" } },
          ),
        ),
        ...plugs
          .slice(0, 3)
          .map((id) =>
            volts(
              `plug ${id}`,
              `With all of them unplugged: key off, unplug ${called(h, id)}, key on, repeat`,
              opening(run, ...users, id),
              target,
              minus,
              AS_SOUND,
              { only: { reference: "bad" } },
            ),
          ),
      ],
      rules: [
        {
          when: { reference: "good" },
          words: "The reference stands. What a sensor gets of it is another question: measure it there.",
          points: [],
          sound: true,
        },
        ...users.map((id): Rule => ({
          when: { [`without ${id}`]: "good" },
          words: `It comes back with ${called(h, id)} off: that sensor or its own wire. Measure the wire unplugged before a sensor is bought.`,
          points: [id],
        })),
        ...plugs.slice(0, 3).map((id): Rule => ({
          when: { [`plug ${id}`]: "good" },
          words: `It comes back with ${called(h, id)} open: the loom behind that plug.`,
          points: [id],
        })),
        {
          when: { reference: "bad", ...(users.length === 0 ? {} : { [`without ${users.at(-1)}`]: "bad" }) },
          words: "It stays down with every sensor off: the wire, or the module’s supply, ground or reference.",
          points: [target, module],
        },
      ],
    };
  },
};

export const bus: Procedure = {
  id: "bus",
  name: "Bus, by resistance and by unplugging",
  asks: "Is the pair whole, and which module holds it?",
  cautions: ["Ohms only with everything asleep: a live bus makes them void. Unplugging modules sets codes: write the codes down first."],
  choices: [
    {
      id: "order",
      asks: "Which module is unplugged first?",
      options: [
        { id: "easiest", words: "the easiest to reach", why: "Each takes the same look; minutes are in the reaching. Usual here." },
        { id: "as wired", words: "along the bus", why: "Tells the stretch of wire too, where modules are looped through." },
      ],
      usual: "easiest",
    },
  ],
  targetsOf: (h) => pairsOf(h).map((p) => ({ element: p.high, words: `${p.name}, ${p.members.length} modules` })),
  plan(setting) {
    const { harness: h, target, state } = setting;
    const pair = pairsOf(h).find((p) => p.high === target);
    if (pair === undefined) return { steps: [], rules: [] };
    const modules = devices(h, "module")
      .map((c) => c.id)
      .sort();
    const asleep = at(state, { asleep: modules });
    const run = at(state, { key: "run" });
    const minus = minusOf(h);
    const [high, low] = [pair.high, pair.low];
    const minutes = (id: string): number => {
      const part = lookupOf(h).parts.get(id)!;
      return part.accessMinutes ?? h.zones?.find((z) => z.id === part.zone)?.minutes ?? 1;
    };
    const members = (
      optionOf(bus.choices[0]!, setting) === "easiest" ? pair.members.toSorted((p, q) => minutes(p) - minutes(q)) : pair.members
    ).slice(0, MOST_UNPLUGGED);
    const steps: Step[] = [
      see("ohms", "Everything asleep; ohms between the two lines", asleep, { kind: "ohms", red: high, black: low }, AS_SOUND, {
        because: "About 60 Ω with both terminators, 120 Ω with one lost, near 0 Ω when the lines touch.",
      }),
      volts("high", "Key on; high line against battery negative", run, high, minus, AS_SOUND),
      volts("low", "Key on; low line against battery negative", run, low, minus, AS_SOUND),
      ...members.map((id) =>
        see(`answers ${id}`, `Key on; does ${called(h, id)} answer?`, run, { kind: "answers", module: id }, word("yes")),
      ),
      ...members.map((id) =>
        volts(
          `without ${id}`,
          `Key off, unplug ${called(h, id)} alone, key on; high line again; key off, plug it in again`,
          opening(run, id),
          high,
          minus,
          AS_SOUND,
          {
            only: { high: "bad" },
          },
        ),
      ),
      ...members.map((id) =>
        volts(
          `low without ${id}`,
          `Key off, unplug ${called(h, id)} alone, key on; low line again; key off, plug it in again`,
          opening(run, id),
          low,
          minus,
          AS_SOUND,
          {
            only: { low: "bad", high: "good" },
          },
        ),
      ),
    ];
    const wires = (place: string): readonly string[] => netAt(h, place)?.links.flatMap((l) => (l.kind === "wire" ? [l.id] : [])) ?? [];
    const stubs = (id: string): readonly string[] => pinsBy(h, id, "bus").flatMap((p) => wiresAt(h, p).map((w) => w.id));
    const rules: Rule[] = [
      ...members.flatMap((id): Rule[] => [
        {
          when: { [`without ${id}`]: "good" },
          words: `The line comes back with ${called(h, id)} off: that module or its stub.`,
          points: [id],
        },
        {
          when: { [`low without ${id}`]: "good" },
          words: `The line comes back with ${called(h, id)} off: that module or its stub.`,
          points: [id],
        },
      ]),
      {
        when: { high: "bad", ...(members.length === 0 ? {} : { [`without ${members.at(-1)}`]: "bad" }) },
        words: "It stays so with each of them off: the high line itself touches something.",
        points: wires(high),
      },
      { when: { low: "bad", ohms: "good" }, words: "The low line does not stand where it should.", points: wires(low) },
      {
        when: { low: "bad", ohms: "bad" },
        words: "Low line and pair are both wrong: the lines touch each other, ground or a feed, or the low line is broken.",
        points: [...wires(low), ...wires(high), ...pair.others],
      },
      {
        when: { ohms: "bad", high: "good", low: "good" },
        words: "The pair is not whole: a terminator, or a break between two of them.",
        points: [...pair.others, ...wires(high), ...wires(low)],
      },
      ...members.map((id): Rule => ({
        when: { ohms: "good", high: "good", low: "good", [`answers ${id}`]: "bad" },
        words: `The bus is good and ${called(h, id)} does not respond: its supply, its ground, its own stub.`,
        points: [id, ...stubs(id)],
      })),
      { when: {}, words: "The bus is good and all modules respond.", points: [], sound: true },
    ];
    return { steps, rules };
  },
};

/** CAN pairs: a high and a low line with the same modules on them. */
function pairsOf(h: Harness): readonly {
  readonly name: string;
  readonly high: string;
  readonly low: string;
  readonly members: readonly string[];
  readonly others: readonly string[];
}[] {
  const lines = busMap(h);
  const modules = (of: (typeof lines)[number]): readonly string[] => [...new Set(of.members.map((p) => partNameIn(p)))];
  return lines.flatMap((line) => {
    if (!/can.?h/i.test(line.sort)) return [];
    const other = lines.find((l) => /can.?l/i.test(l.sort) && modules(l).some((m) => modules(line).includes(m)));
    const open = [line.members, other?.members ?? []].map((list) => list.find((p) => isMeasurable(h, p)));
    if (other === undefined || open[0] === undefined || open[1] === undefined) return [];
    return [
      {
        name: line.words === "" ? `bus ${line.name}` : line.words,
        high: open[0],
        low: open[1],
        members: modules(line),
        others: [...new Set([...line.others, ...other.others])],
      },
    ];
  });
}
