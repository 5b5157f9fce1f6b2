import { linkOf, lookupOf, wiresAt, type Harness, type Hop } from "../harness/index.ts";
import type { PathKind } from "../limits/index.ts";
import {
  at,
  busiestState,
  called,
  groundsOf,
  isMeasurable,
  minusOf,
  opening,
  plusOf,
  referenceOf,
  targetOf,
  waysOf,
  workingState,
} from "./finding.ts";
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
import { links, REFERENCE } from "./starting.ts";

/** Loaded drop or ohms. */
export const METHOD: Choice = {
  id: "method",
  asks: "Loaded drop or ohms?",
  options: [
    {
      id: "loaded drop",
      words: "drop while current flows",
      why: "A strand that is left passes a meter’s microamps and fails at two amperes: only the drop under its own current decides. Usual here.",
    },
    {
      id: "ohms",
      words: "ohms with the power off",
      why: "Finds breaks and shorts and checks a cleaned joint. A good value does not prove that the way carries its current.",
    },
  ],
  usual: "loaded drop",
};

const NO_LOAD_CAUTION = "The part runs while this is measured: clear of fans, belts and moving parts.";

export const ground: Procedure = {
  id: "ground",
  name: "Ground, at rest and under load",
  asks: "Does this ground carry its current with next to nothing lost?",
  cautions: [NO_LOAD_CAUTION],
  choices: [REFERENCE, METHOD],
  targetsOf: groundsOf,
  plan(setting) {
    const { harness: h, target, state } = setting;
    const link = linkOf(h, target)!;
    const metal = link.a === target ? link.b : link.a;
    const minus = referenceOf(h, optionOf(REFERENCE, setting));
    const busy = busiestState(h, target, state).state;
    const own = wiresAt(h, target).map((w) => w.id);
    const steps: Step[] = [
      volts("rest", "Everything off; red on the stud, black on the reference", at(state, {}), target, minus, {
        kind: "between",
        low: -0.02,
        high: 0.02,
      }),
    ];
    if (optionOf(METHOD, setting) === "ohms")
      steps.push(
        see(
          "ohms",
          "Everything off; ohms from the stud to the reference",
          at(state, {}),
          { kind: "ohms", red: target, black: minus },
          AS_SOUND,
          {
            because: "It supports; the drop below decides.",
          },
        ),
      );
    steps.push(
      volts(
        "loaded",
        "With everything on that comes back through it; red on the stud’s terminal, black on the reference",
        busy,
        target,
        minus,
        drop("ground side"),
      ),
      volts("stud", "Same; red on the terminal, black on bare metal beside it", busy, target, metal, drop("joint")),
    );
    if (metal !== minus)
      steps.push(volts("metal", "Same; red on that bare metal, black on the reference", busy, metal, minus, drop("ground side")));
    return {
      steps,
      rules: [
        { when: { stud: "bad" }, words: "Lost between terminal and metal: clean and re-fix this ground.", points: [target] },
        {
          when: { metal: "bad" },
          words: "The metal itself stands above the battery’s negative post: the strap from there, not this stud.",
          points: strapsOf(h, metal),
        },
        { when: { loaded: "bad" }, words: "Too much drop at this ground.", points: [target, ...own] },
        {
          when: { rest: "bad" },
          words: "Something stands there with everything off: a current that should not flow, or a reference that is none.",
          points: [],
        },
        { when: {}, words: "This ground is good under its own load.", points: [], sound: true },
      ],
    };
  },
};

/** Straps and studs that join a metal with another or with the battery. */
const strapsOf = (h: Harness, metal: string): readonly string[] =>
  h.components.flatMap((c) => {
    if (c.kind !== "ground" || c.on !== metal) return [];
    const strap = wiresAt(h, c.id).filter((w) =>
      [w.from, w.to].some((e) => e.component !== c.id && ["battery", "ground"].includes(lookupOf(h).parts.get(e.component)?.kind ?? "")),
    );
    return strap.length === 0 ? [] : [c.id, ...strap.map((w) => w.id)];
  });

export const walk: Procedure = {
  id: "drop-walk",
  name: "Voltage-drop walk",
  asks: "On which side, and then at which step, is the voltage lost?",
  cautions: [NO_LOAD_CAUTION],
  choices: [METHOD],
  targetsOf: (h) =>
    h.components.flatMap((c) => ((c.kind === "load" || c.kind === "device") && waysOf(h, c.id) !== undefined ? [targetOf(h, c.id)] : [])),
  plan(setting) {
    const { harness: h, target, state } = setting;
    const ways = waysOf(h, target);
    if (ways === undefined) return { steps: [], rules: [] };
    const [plus, minus] = [plusOf(h), minusOf(h)];
    const on = workingState(h, target, state);
    if (optionOf(METHOD, setting) === "ohms") return byOhms(h, target, ways, at(state, {}), on);
    const steps: Step[] = [
      volts("across", `While it should work; across ${called(h, target)}`, on, ways.near, ways.far, ENOUGH_VOLTS),
      volts("feed side", "Same; red on the positive post, black on its feed pin", on, plus, ways.near, drop("wire"), {
        only: { across: "bad" },
      }),
      volts("ground side", "Same; red on its ground pin, black on the negative post", on, ways.far, minus, drop("ground side"), {
        only: { across: "bad" },
      }),
    ];
    const rules: Rule[] = [];
    for (const [side, hops] of [
      ["feed side", ways.feed],
      ["ground side", ways.ground],
    ] as const)
      for (const hop of stretches(h, hops)) {
        const id = `${side} ${hop.from} ${hop.to}`;
        steps.push(volts(id, `Across ${hop.words}`, on, hop.from, hop.to, hop.good, { only: { [side]: "bad" } }));
        rules.push({ when: { [id]: "bad" }, words: `The step that is too tall: ${hop.words}.`, points: hop.links });
      }
    rules.push(
      { when: { "ground side": "bad" }, words: "Lost on the ground side.", points: links(h, target, "ground") },
      { when: { "feed side": "bad" }, words: "Lost on the feed side.", points: links(h, target, "feed") },
      {
        when: { across: "good" },
        words: `${called(h, target)} has its voltage: if it does not work, it is the part itself.`,
        points: [target],
        sound: true,
      },
    );
    return { steps, rules };
  },
};

interface Stretch {
  readonly from: string;
  readonly to: string;
  readonly words: string;
  readonly links: readonly string[];
  readonly good: Step["good"];
}

/** Neighbouring hops between places that a probe gets to. */
function stretches(h: Harness, hops: readonly Hop[]): readonly Stretch[] {
  const found: Stretch[] = [];
  let open: Hop[] = [];
  for (const hop of hops) {
    open.push(hop);
    if (!isMeasurable(h, hop.to)) continue;
    const names = open.map((x) => x.link.id);
    const kinds = open.map(kindOf);
    const good: Step["good"] = drop(kinds.includes("wire") ? "wire" : "joint");
    found.push({ from: open[0]!.from, to: hop.to, words: names.join(", "), links: names, good });
    open = [];
  }
  return found;
}

const kindOf = ({ link }: Hop): PathKind => (link.kind === "wire" ? "wire" : "joint");

/** Ohms with the part unplugged and the feed taken away: breaks show, carrying power does not. */
function byOhms(
  h: Harness,
  target: string,
  ways: NonNullable<ReturnType<typeof waysOf>>,
  rest: Step["test"]["state"],
  on: Step["test"]["state"],
): ReturnType<Procedure["plan"]> {
  const fuse = ways.feed.findLast((x) => lookupOf(h).parts.get(x.link.id)?.kind === "fuse");
  const dead = opening({ ...rest, on: on.on }, target, ...(fuse === undefined ? [] : [fuse.link.id]));
  return {
    steps: [
      ...(fuse === undefined
        ? []
        : [
            see(
              "feed side",
              `${fuse.link.id} pulled, ${called(h, target)} unplugged; ohms from the fuse’s load side to the feed pin`,
              dead,
              { kind: "ohms" as const, red: fuse.to, black: ways.near },
              AS_SOUND,
            ),
          ]),
      see(
        "ground side",
        "Ohms from the ground pin to battery negative",
        dead,
        { kind: "ohms", red: ways.far, black: minusOf(h) },
        AS_SOUND,
      ),
    ],
    rules: [
      {
        when: { "ground side": "bad" },
        words: "Too many ohms on the ground side: confirm by the drop under load.",
        points: links(h, target, "ground"),
      },
      {
        when: { "feed side": "bad" },
        words: "Too many ohms on the feed side: confirm by the drop under load.",
        points: links(h, target, "feed"),
      },
      { when: {}, words: "No break. That it carries its current only the loaded drop shows.", points: [], sound: true },
    ],
  };
}

export const fuseSides: Procedure = {
  id: "fuse-sides",
  name: "Fuse, both sides",
  asks: "Does voltage come to the fuse, and through it?",
  cautions: ["Never a larger fuse than drawn, not even to see."],
  choices: [],
  targetsOf: (h) => h.components.flatMap((c) => (c.kind === "fuse" ? [targetOf(h, c.id)] : [])),
  plan({ harness: h, target, state }) {
    const minus = minusOf(h);
    const [supplySide, loadSide] = fuseEnds(h, target);
    const busy = busiestState(h, target, state);
    const on = busy.amps > 0.05 ? busy.state : at(state, { key: "run" });
    const fuse = lookupOf(h).parts.get(target);
    const rating = fuse?.kind === "fuse" ? `${fuse.ratingAmps} A` : "as drawn";
    return {
      steps: [
        volts("supply side", `With what it feeds switched on; supply side, ${supplySide}`, on, supplySide, minus, ENOUGH_VOLTS),
        volts("load side", `Same; load side, ${loadSide}`, on, loadSide, minus, ENOUGH_VOLTS),
        volts("across", "Same; from the supply side to the load side", on, supplySide, loadSide, drop("joint"), {
          only: { "supply side": "good" },
        }),
        see(
          "rating",
          "Pull it and read its rating",
          opening(at(state, {}), target),
          { kind: "check", at: target, what: `rating is ${rating}, blades bright` },
          word("as it should be"),
        ),
      ],
      rules: [
        {
          when: { rating: "bad" },
          words: "Someone fitted another rating: a finding in itself. Put in what is drawn and look for why.",
          points: [target],
        },
        {
          when: { "supply side": "bad", "load side": "bad" },
          words: "No voltage comes to the fuse: what lies before it.",
          points: feedBefore(h, target),
        },
        {
          when: { "supply side": "bad", "load side": "good" },
          words:
            "The load side is live and the supply side is not: it is fed from behind (a second feed, a jumper), or the two test points were mixed up. Take both again; then what feeds it from behind.",
          points: [target],
        },
        {
          when: { "supply side": "good", "load side": "bad" },
          words: "It stops at the fuse: blown, or a poor contact. If blown, find the short before the next one goes in.",
          points: [target],
        },
        { when: { across: "bad" }, words: "The fuse or its contacts drop too much.", points: [target] },
        { when: {}, words: "The fuse is good on both sides under its load.", points: [], sound: true },
      ],
    };
  },
};

/** The way to some part that a fuse feeds: what lies before the fuse, and its own hop. */
function wayThrough(h: Harness, fuse: string): { readonly before: readonly Hop[]; readonly hop: Hop } | undefined {
  for (const c of h.components) {
    const feed = c.kind === "load" || c.kind === "device" ? (waysOf(h, c.id)?.feed ?? []) : [];
    const index = feed.findIndex((x) => x.link.id === fuse);
    if (index >= 0) return { before: feed.slice(0, index), hop: feed[index]! };
  }
  return undefined;
}

/** Test points of a fuse as drawn: where its supply comes in, and the other. */
export function fuseEnds(h: Harness, fuse: string): readonly [supply: string, load: string] {
  const hop = wayThrough(h, fuse)?.hop;
  return hop === undefined ? [`${fuse}.1`, `${fuse}.2`] : [hop.from, hop.to];
}

/** Everything between the battery and a fuse. */
const feedBefore = (h: Harness, fuse: string): readonly string[] => wayThrough(h, fuse)?.before.map((x) => x.link.id) ?? [];
