import { shownBy } from "../diagnosis/index.ts";
import { deviceOf, type Harness, lookupOf, pinPlace, wiresAt } from "../harness/index.ts";
import { devices, loadLinkOf, minusOf, plusOf, targetOf, waysOf, workingState } from "./finding.ts";
import { AS_SOUND, drop, ENOUGH_VOLTS, optionOf, see, volts, word, type Procedure, type Setting, type Step } from "./procedure.ts";
import { links } from "./starting.ts";

export const relay: Procedure = {
  id: "relay",
  name: "Relay and its four circuits",
  asks: "Which of coil feed, coil ground, contact feed and output fails?",
  cautions: ["Swapping with a like relay is quick and proves little: the socket and its four circuits stay as they were."],
  choices: [
    {
      id: "order",
      asks: "Diagram first or logic first?",
      options: [
        { id: "diagram", words: "diagram first", why: "Coil, then contacts, by pin number: nothing is missed. Usual here." },
        { id: "logic", words: "output first", why: "If the output has its voltage the relay is done with in one reading." },
      ],
      usual: "diagram",
    },
  ],
  targetsOf: (h) => devices(h, "relay").map((c) => targetOf(h, c.id)),
  plan(setting) {
    const { harness: h, target, state } = setting;
    const minus = minusOf(h);
    const used = loadBehind(h, target);
    const on = relayState(h, target, used, state);
    const part = lookupOf(h).parts.get(target);
    const names =
      part?.kind === "device"
        ? deviceOf(part)
            .device.terminals(deviceOf(part).settings)
            .map((t) => t.name)
        : [];
    const has = (n: string): boolean => names.includes(n) && wiresAt(h, pinPlace(target, n)).length > 0;
    const [fed, grounded] = coilEnds(h, target, on);
    const coil: Step[] = [
      volts("coil feed", `While it should be pulled in; coil feed end, pin ${fed}`, on, `${target}.${fed}`, minus, ENOUGH_VOLTS),
      volts("coil ground", `Same; coil ground end, pin ${grounded}`, on, `${target}.${grounded}`, minus, drop("joint")),
      volts("coil", `Same; across the coil, ${fed} to ${grounded}`, on, `${target}.${fed}`, `${target}.${grounded}`, ENOUGH_VOLTS),
      see("click", "Same; it clicks, and stays in", on, { kind: "part", part: target }, AS_SOUND, { only: { coil: "good" } }),
    ];
    const output = has("87") ? [volts("output", "Same; output 87", on, `${target}.87`, minus, ENOUGH_VOLTS)] : [];
    const contact: Step[] = [
      volts("contact feed", "Same; contact feed 30", on, `${target}.30`, minus, ENOUGH_VOLTS),
      ...(has("87")
        ? [
            volts("contact", "Same; across the contact, 30 to 87", on, `${target}.30`, `${target}.87`, drop("joint"), {
              only: { "contact feed": "good" },
            }),
          ]
        : []),
    ];
    const steps =
      optionOf({ ...relay.choices[0]! }, setting) === "logic" ? [...output, ...coil, ...contact] : [...coil, ...contact, ...output];
    const atFeed = wiresAt(h, pinPlace(target, fed)).map((w) => w.id);
    const atGround = wiresAt(h, pinPlace(target, grounded)).map((w) => w.id);
    const at30 = wiresAt(h, pinPlace(target, "30")).map((w) => w.id);
    return {
      steps,
      rules: [
        { when: { coil: "bad", "coil feed": "bad" }, words: "The coil’s feed fails, or what switches it on that side.", points: atFeed },
        {
          when: { coil: "bad", "coil ground": "bad" },
          words: "The coil’s ground fails, or what switches it on that side.",
          points: atGround,
        },
        { when: { "contact feed": "bad" }, words: "No good feed at the contact.", points: at30 },
        {
          when: { coil: "good", click: "bad" },
          words: "The coil has its voltage and the relay does not pull in: the relay.",
          points: [target],
        },
        { when: { contact: "bad" }, words: "The contact drops too much: the relay or its socket.", points: [target] },
        {
          when: { output: "bad" },
          words: "The output is not what it should be though the contact is good: what hangs on it drags it down.",
          points: [`${target}.87`],
        },
        { when: {}, words: "Relay and its four circuits are good; go on behind 87.", points: [], sound: true },
      ],
    };
  },
};

/** Pins of the coil as it is drawn: where the feed comes in, and the other. Either number may be fed. */
function coilEnds(h: Harness, relay: string, on: Setting["state"]): readonly [fed: string, grounded: string] {
  const across = shownBy(h, { state: on, observe: { kind: "volts", red: `${relay}.86`, black: `${relay}.85` } }, []);
  return across.kind === "value" && across.value < 0 ? ["85", "86"] : ["86", "85"];
}

/** The use in which a relay is in, with what it feeds where that can be. */
function relayState(h: Harness, relay: string, used: string | undefined, state: Setting["state"]): Setting["state"] {
  const isIn = (s: Setting["state"]): boolean => {
    const shown = shownBy(h, { state: s, observe: { kind: "part", part: relay } }, []);
    return shown.kind === "word" && shown.word === "full";
  };
  const both = used === undefined ? undefined : workingState(h, used, state);
  return both !== undefined && isIn(both) ? both : workingState(h, relay, state);
}

/** A part that works through a relay's contact. */
const loadBehind = (h: Harness, relay: string): string | undefined =>
  h.components.find(
    (c) =>
      (c.kind === "load" || c.kind === "device") &&
      c.id !== relay &&
      loadLinkOf(h, c.id) !== undefined &&
      waysOf(h, c.id)?.feed.some((x) => x.link.id.startsWith(`${relay}.contact`)) === true,
  )?.id;

export const gift: Procedure = {
  id: "give",
  name: "Give it a ground, give it a feed",
  asks: "Does it work with a ground or feed of its own?",
  cautions: [
    "Only through a lead with a fuse no larger than the circuit’s own. Never on a module’s output, a sensor’s reference or an igniter.",
    "The part may start at once: clear of fans and moving parts.",
  ],
  choices: [],
  targetsOf: (h) => h.components.flatMap((c) => (c.kind === "load" && waysOf(h, c.id) !== undefined ? [targetOf(h, c.id)] : [])),
  plan({ harness: h, target, state }) {
    const ways = waysOf(h, target)!;
    const on = workingState(h, target, state);
    const part = { kind: "part", part: target } as const;
    return {
      steps: [
        see("as it is", "In the state in which it should work", on, part, word("full")),
        see(
          "own ground",
          "Fused lead from its ground pin to battery negative",
          { ...on, bridged: [[ways.far, minusOf(h)]] },
          part,
          word("full"),
          { only: { "as it is": "bad" } },
        ),
        see(
          "own feed",
          "Fused lead from battery positive to its feed pin",
          { ...on, bridged: [[ways.near, plusOf(h)]] },
          part,
          word("full"),
          { only: { "as it is": "bad" } },
        ),
      ],
      rules: [
        { when: { "as it is": "good" }, words: "It works.", points: [], sound: true },
        {
          when: { "own ground": "good" },
          words: "It works with a ground of its own: its ground side.",
          points: links(h, target, "ground"),
        },
        {
          when: { "own feed": "good" },
          words: "It works with a feed of its own: its feed side, or what switches it.",
          points: links(h, target, "feed"),
        },
        {
          when: { "own ground": "bad", "own feed": "bad" },
          words: "Neither helps by itself: the part, or both sides. Measure across it before a part is bought.",
          points: [target],
        },
      ],
    };
  },
};
