import { shownBy } from "../diagnosis/index.ts";
import { linkOf, lookupOf, neighboursOf, partOfPlace, type Harness } from "../harness/index.ts";
import { at, busiestState, called, minusOf, opening, plugsBehind, plusOf, wireWords } from "./finding.ts";
import { AS_SOUND, optionOf, see, volts, word, type Choice, type Procedure, type Rule, type Step } from "./procedure.ts";
import { METHOD } from "./paths.ts";
import { fuseEnds, fuseSides } from "./paths.ts";

const LAMP_WATTS = 21;
const MOST_PLUGS = 10;

const HALVING: Choice = {
  id: "halving",
  asks: "In which order is it unplugged?",
  options: [
    { id: "halving", words: "so that each plug takes off about half", why: "Fewest plugs on average. Usual here." },
    { id: "easiest", words: "the easiest to reach first", why: "Sooner done where the good plugs are behind the dash." },
  ],
  usual: "halving",
};

export const blownFuse: Procedure = {
  id: "blown-fuse",
  name: "Blown fuse, lamp in its place",
  asks: "Is what this fuse feeds shorted, and behind which plug?",
  cautions: [
    "No fuse is wasted and none is made larger: the lamp limits the current.",
    "The lamp gets hot. With the short moving, a second person moves the loom while one watches the lamp.",
  ],
  choices: [HALVING],
  targetsOf: fuseSides.targetsOf,
  plan(setting) {
    const { harness: h, target, state } = setting;
    const [supplySide, loadSide] = fuseEnds(h, target);
    const lamp = { kind: "lamp", red: supplySide, black: loadSide, watts: LAMP_WATTS } as const;
    // With its consumers on the lamp stays dim through them where it can, and a short behind their switches shows as well.
    const on = opening(busiestState(h, target, state).state, target);
    const through = shownBy(h, { state: on, observe: lamp }, []);
    const isDim = through.kind === "word" && through.word !== "bright";
    const base = isDim ? on : opening(at(state, { key: "run" }), target);
    const halved = plugsBehind(h, loadSide);
    const minutes = (id: string): number => {
      const part = lookupOf(h).parts.get(id)!;
      return part.accessMinutes ?? h.zones?.find((z) => z.id === part.zone)?.minutes ?? 1;
    };
    const plugs = (optionOf(HALVING, setting) === "easiest" ? halved.toSorted((p, q) => minutes(p) - minutes(q)) : halved).slice(
      0,
      MOST_PLUGS,
    );
    const notLit = word("dim", "glowing", "dark");
    return {
      steps: [
        see(
          "lamp",
          `Fuse out, ${isDim ? "its consumers switched on" : "consumers off, key on"}: lamp across the two contacts of its holder`,
          base,
          lamp,
          notLit,
          {
            because: "Bright: shorted now. Dim: only consumers in series with it. Dark: nothing takes current.",
          },
        ),
        ...plugs.map((id) =>
          see(
            `without ${id}`,
            `Key off, unplug ${called(h, id)}, key as before and look at the lamp again; then key off, plug it in again`,
            opening(base, id),
            lamp,
            notLit,
            { only: { lamp: "bad" } },
          ),
        ),
        see(
          "moving",
          "Move the loom, turn the steering, shift through the gears, open doors: does the lamp flash?",
          base,
          { kind: "wiggle", at: target },
          word("steady"),
          { only: { lamp: "good" } },
        ),
      ],
      rules: [
        ...plugs.map((id): Rule => ({
          when: { [`without ${id}`]: "good" },
          words: `The short lies behind ${called(h, id)}. If that is a plug, go on behind it; if it is a part, unplug it by itself: lamp out, it is the part.`,
          points: [id],
        })),
        { when: { moving: "bad" }, words: "It comes with movement: the loom where it was moved.", points: [] },
        {
          when: { lamp: "good" },
          words:
            "Nothing is shorted at the moment. Switch the loads on one by one and compare the lamp with what each should make of it: a good heavy load makes it bright too, a short makes it brighter than expected.",
          points: [],
          sound: true,
        },
        {
          when: { lamp: "bad" },
          words: `Still shorted with each of these unplugged: the wire between ${target} and the first plug.`,
          points: [target],
        },
      ],
    };
  },
};

/** What frees an end of a wire. */
const freeing = (h: Harness, place: string): string | undefined => {
  const part = partOfPlace(h, place);
  return part !== undefined && ["connector", "load", "device", "fuse"].includes(part.kind) ? part.id : undefined;
};

/** Wires that can be taken off at both ends. */
const freeWires = (h: Harness) =>
  h.wires.flatMap((w) => {
    const link = linkOf(h, w.id)!;
    return [link.a, link.b].every((p) => freeing(h, p) !== undefined) ? [{ element: w.id, words: wireWords(h, w.id) }] : [];
  });

export const short: Procedure = {
  id: "short",
  name: "Short to ground, to feed, to a neighbour",
  asks: "Does this wire touch ground, a live wire or another one?",
  cautions: ["Both ends are unplugged before an ohmmeter comes near: nothing live, no module’s pin, no igniter on it."],
  choices: [],
  targetsOf: freeWires,
  plan({ harness: h, target, state }) {
    const link = linkOf(h, target)!;
    const ends = [link.a, link.b].map((p) => freeing(h, p)!);
    const off = opening(at(state, {}), ...ends);
    const live = opening(at(state, { key: "run" }), ...ends);
    const near = neighboursOf(h, target).slice(0, 5);
    const steps: Step[] = [
      volts("to feed", "Unplugged at both ends, key on; red on the wire, black on battery negative", live, link.b, minusOf(h), {
        kind: "between",
        low: -0.1,
        high: 0.1,
      }),
      see(
        "to ground",
        "Key off; ohms from the wire to battery negative",
        off,
        { kind: "ohms", red: link.b, black: minusOf(h) },
        { kind: "at least", value: 10_000 },
        { only: { "to feed": "good" } },
      ),
      ...near.map(({ wire }) =>
        see(
          `to ${wire.id}`,
          `Key off, the neighbour’s feed off as well; ohms from the wire to ${wire.id} ${wire.colour}`,
          off,
          { kind: "ohms", red: link.b, black: linkOf(h, wire.id)!.b },
          AS_SOUND,
          { only: { "to feed": "good" } },
        ),
      ),
    ];
    return {
      steps,
      rules: [
        {
          when: { "to feed": "bad" },
          words:
            "Voltage stands on a wire that is unplugged at both ends: it touches a live one, or the meter shows a ghost voltage. Confirm with a test lamp: a ghost goes out at once.",
          points: [target],
        },
        { when: { "to ground": "bad" }, words: "It touches ground.", points: [target] },
        ...near.map(({ wire, segments }): Rule => ({
          when: { [`to ${wire.id}`]: "bad" },
          words: `It touches ${wire.id}, with which it shares ${segments.join(", ")}. Look at all the wires there: seldom are only two rubbed through.`,
          points: [target, wire.id],
        })),
        { when: {}, words: "It touches nothing at the moment. Move the loom and look again.", points: [], sound: true },
      ],
    };
  },
};

/** What is done with a wire that is bad. */
const REPAIR: Choice = {
  id: "repair",
  asks: "Find the spot or overlay it?",
  options: [
    {
      id: "find",
      words: "find the spot",
      why: "What harmed this wire harms its neighbours: they are seen and mended with it, and the cause is taken away. Usual here.",
    },
    {
      id: "overlay",
      words: "overlay a new wire",
      why: "Sooner done where the loom is out of reach. The cause stays, and so do neighbours at risk: say so in the record.",
    },
  ],
  usual: "find",
};
const THEN: Readonly<Record<string, string>> = {
  find: " Find the spot: halve it from plug to plug, look where it crosses edges, bends or sees water; then look at its neighbours there.",
  overlay: " Overlay it: same area, same way, clear of what harmed the old one, which is cut off at both ends and left dead.",
};

export const openWire: Procedure = {
  id: "open-wire",
  name: "Open or high resistance in a wire",
  asks: "Does this wire pass current, or only a meter’s microamps?",
  cautions: ["Unplugged at both ends: no lamp on a module’s pin, a reference or an igniter. The lamp limits the current."],
  choices: [METHOD, REPAIR],
  targetsOf: freeWires,
  plan(setting) {
    const { harness: h, target, state } = setting;
    const link = linkOf(h, target)!;
    const then = THEN[optionOf(REPAIR, setting)]!;
    const [plus, minus] = [plusOf(h), minusOf(h)];
    const off = opening(at(state, {}), ...[link.a, link.b].map((p) => freeing(h, p)!));
    if (optionOf(METHOD, setting) === "ohms")
      return {
        steps: [
          see("ohms", "Unplugged at both ends; ohms from end to end", off, { kind: "ohms", red: link.a, black: link.b }, AS_SOUND, {
            because: "A meter’s microamps pass through one strand as through all: a good value does not clear the wire.",
          }),
        ],
        rules: [
          { when: { ohms: "bad" }, words: `Open, or too many ohms.${then}`, points: [target] },
          { when: { ohms: "good" }, words: "No break. That it carries current only a lamp through it shows.", points: [], sound: true },
        ],
      };
    const fed = { ...off, lamps: [[plus, link.a, LAMP_WATTS] as [string, string, number]] };
    const loaded = { ...off, lamps: [...fed.lamps, [link.b, minus, LAMP_WATTS] as [string, string, number]] };
    return {
      steps: [
        see(
          "series",
          "Feed one end from the positive post through a lamp; the other end free: does the lamp light?",
          off,
          { kind: "lamp", red: plus, black: link.a, watts: LAMP_WATTS },
          word("dark"),
          {
            because: "It lights: the wire is shorted to ground.",
          },
        ),
        volts("far end", "Same; red on the free end, black on battery negative", fed, link.b, minus, AS_SOUND, {
          only: { series: "good" },
        }),
        volts("loaded", "A second lamp from the free end to battery negative; red on that end", loaded, link.b, minus, AS_SOUND, {
          only: { "far end": "good" },
          because: "Two like lamps share the voltage: about half stays on a good wire. A lower reading: the rest is dropped in the wire.",
        }),
      ],
      rules: [
        { when: { series: "bad" }, words: `Shorted to ground.${then}`, points: [target] },
        {
          when: { "far end": "bad" },
          words: `Open, or nearly so. With the meter’s 10 MΩ the share that is missing tells how many ohms.${then}`,
          points: [target],
        },
        { when: { loaded: "bad" }, words: `It reads well and gives way under load: high resistance.${then}`, points: [target] },
        { when: {}, words: "This wire carries current from end to end.", points: [], sound: true },
      ],
    };
  },
};
