import {
  type Harness,
  isInnerPlace,
  linksOf,
  loadsOf,
  lookupOf,
  moduleGround,
  moduleSupply,
  partNameIn,
  pathOfLoad,
  wiresAt,
} from "../harness/index.ts";
import { at, called, crankingState, devices, minusOf, plusOf, referenceOf, scaled, targetOf, waysOf } from "./finding.ts";
import { operationsOf } from "./operations.ts";
import { AS_SOUND, drop, optionOf, see, volts, word, type Choice, type Procedure, type Rule, type Step } from "./procedure.ts";

export const CRANKING_CAUTION =
  "The engine may start: in neutral or park, brake on, hands, leads and clothes clear of belts and fan. Whoever turns the key and whoever holds the leads agree on signals.";
/** At rest, surface charge removed: about 60 % of charge, for 12 V. */
export const RESTED_VOLTS = 12.35;
export const BATTERY_CAUTION =
  "A battery gives off gas while it is charged and can burst: eyes covered, no sparks, no spanner across the posts. Negative off first, on last.";
export const RUNNING_CAUTION = "Belts, fan and exhaust: nothing loose near them. Exhaust gas out of the bay.";

/** Links from the battery to a part, or from it back to the battery; none when it has no way. */
export const links = (h: Harness, part: string, side: "feed" | "ground"): readonly string[] =>
  waysOf(h, part)?.[side].map((x) => x.link.id) ?? [];

/** Where the block is compared with the battery: bare metal, or the post of the starter. */
export const REFERENCE: Choice = {
  id: "reference",
  asks: "Where does the black lead go?",
  options: [
    {
      id: "battery negative",
      words: "battery negative",
      why: "Nothing lies between it and the battery: the drop in straps and studs shows. Usual here, on a long lead if need be.",
    },
    {
      id: "engine block",
      words: "engine block",
      why: "Quick to reach. A lost engine strap makes good feeds read low, so that it can only confirm.",
    },
  ],
  usual: "battery negative",
};

export const battery: Procedure = {
  id: "battery",
  name: "Battery and cables",
  asks: "Is there enough at the battery, and does it get through the main cables?",
  cautions: [BATTERY_CAUTION, CRANKING_CAUTION],
  choices: [],
  targetsOf: (h) => h.components.flatMap((c) => (c.kind === "battery" ? [targetOf(h, c.id)] : [])),
  plan({ harness: h, target, state }) {
    const [plus, minus] = [plusOf(h), minusOf(h)];
    const starter = devices(h, "starter")[0];
    const crank = crankingState(h, state);
    const lit = operationsOf(h).reduce((p, q) => (q.state.engine === "stopped" && q.working.size > p.working.size ? q : p));
    const steps: Step[] = [
      see(
        "posts",
        "Look at both posts and clamps: tight, bright, no white or green",
        at(state, {}),
        { kind: "look", at: target },
        word("nothing"),
      ),
      volts(
        "rest",
        "Everything off, surface charge removed (headlamps on for two minutes, then some minutes’ rest); across the posts",
        at(state, {}),
        plus,
        minus,
        { kind: "at least", value: scaled(h, RESTED_VOLTS) },
        {
          because: "12.35 V is about 60 % of charge. Below it nothing else can be judged: charge first.",
        },
      ),
      volts("loaded", "With consumers on, engine stopped; across the posts", lit.state, plus, minus, AS_SOUND, { only: { rest: "good" } }),
    ];
    const rules: Rule[] = [
      { when: { posts: "bad" }, words: "Clean and fasten the posts, then begin again.", points: [target] },
      {
        when: { rest: "bad" },
        words: "The battery is not charged. Charge it, test it, find out why it was flat (charging, drain), then begin again.",
        points: [target],
      },
    ];
    if (starter !== undefined) {
      const [b, m] = [`${starter.id}.30`, `${starter.id}.31`];
      steps.push(
        volts(
          "cranking",
          "While the starter turns; across the posts",
          crank,
          plus,
          minus,
          { kind: "at least", value: scaled(h, 9.6) },
          { only: { rest: "good" } },
        ),
        volts(
          "positive cable",
          "While the starter turns; red on the positive post, black on the starter’s main terminal",
          crank,
          plus,
          b,
          drop("positive to starter, cranking"),
        ),
        volts(
          "negative side",
          "While the starter turns; red on the starter’s case, black on the negative post",
          crank,
          m,
          minus,
          drop("engine to negative, cranking"),
        ),
      );
      rules.push(
        {
          when: { "positive cable": "bad" },
          words: "Too much drop between the positive post and the starter.",
          points: links(h, starter.id, "feed"),
        },
        {
          when: { "negative side": "bad" },
          words: "Too much drop between the starter’s case and the negative post: engine strap or negative cable.",
          points: links(h, starter.id, "ground"),
        },
        {
          when: { cranking: "bad" },
          words:
            "The battery breaks down under the starter: it is worn, or the starter takes too much. Test the battery by itself before either is renewed.",
          points: [target, starter.id],
        },
      );
    }
    rules.push(
      { when: { loaded: "bad" }, words: "The battery gives way under a load that a good one carries.", points: [target] },
      { when: {}, words: "Battery and main cables are good.", points: [], sound: true },
    );
    return { steps, rules };
  },
};

export const noCrank: Procedure = {
  id: "no-crank",
  name: "No crank",
  asks: "Does the starter get feed, command and ground while the key is at start?",
  cautions: [CRANKING_CAUTION, BATTERY_CAUTION],
  choices: [REFERENCE],
  targetsOf: (h) => devices(h, "starter").map((c) => targetOf(h, c.id)),
  plan(setting) {
    const { harness: h, target, state } = setting;
    const minus = referenceOf(h, optionOf(REFERENCE, setting));
    const crank = crankingState(h, state);
    const light = lightFor(h);
    const command = `${target}.50`;
    const steps: Step[] = [];
    if (light !== undefined)
      steps.push(
        see(
          "lamp",
          `${called(h, light.part)} on, then crank: what does the light do?`,
          { ...crank, on: [...new Set([...crank.on, ...light.on])].sort() },
          { kind: "part", part: light.part },
          word("full", "weak"),
          {
            because:
              "It goes out: the main connection or a locked starter. It stays as it is: nothing asks for current, so command or main feed. It dims a little: the starter takes current.",
          },
        ),
      );
    steps.push(
      volts("battery", "Key at start; across the posts", crank, plusOf(h), minusOf(h), { kind: "at least", value: scaled(h, 9.6) }),
      volts("feed", "Key at start; starter’s main terminal", crank, `${target}.30`, minus, { kind: "at least", value: scaled(h, 9.1) }),
      volts("command", "Key at start; starter’s control terminal", crank, command, minus, { kind: "at least", value: scaled(h, 8) }),
      volts("ground", "Key at start; starter’s case", crank, `${target}.31`, minusOf(h), drop("engine to negative, cranking")),
      see("turns", "Key at start; what the starter does", crank, { kind: "part", part: target }, word("full")),
    );
    return {
      steps,
      rules: [
        {
          when: { turns: "good" },
          words: "It cranks as it should now. If it did not before, the fault is intermittent.",
          points: [],
          sound: true,
        },
        {
          when: { ground: "bad" },
          words: "The starter’s ground is lost or poor: engine strap, negative cable.",
          points: links(h, target, "ground"),
        },
        {
          when: { battery: "bad" },
          words:
            "The battery gives way while cranking is asked for: test battery and cables first; then the engine by hand (locked?) and the starter’s current.",
          points: [partNameIn(minusOf(h)), target],
        },
        { when: { feed: "bad", battery: "good" }, words: "The main feed does not reach the starter.", points: links(h, target, "feed") },
        {
          when: { command: "bad", feed: "good" },
          words:
            "No command at the control terminal: go on with the relay and its four circuits, clutch or selector switch, and what lets the module ask.",
          points: commandLinks(h, command),
        },
        {
          when: { battery: "good", feed: "good", command: "good", ground: "good", turns: "bad" },
          words:
            "Feed, command and ground are good under load and it does not turn: the starter itself, after the engine was turned by hand.",
          points: [target],
        },
      ],
    };
  },
};

/** A light that works with the key off, and its switch. */
function lightFor(h: Harness): { readonly part: string; readonly on: readonly string[] } | undefined {
  for (const op of operationsOf(h)) {
    if (op.state.key !== "off") continue;
    const part = [...op.working.keys()].find((id) => {
      const c = lookupOf(h).parts.get(id);
      return c?.kind === "load" && c.sort === "lamp";
    });
    if (part !== undefined) return { part, on: op.state.on };
  }
  return undefined;
}

/** The way of the command: to the winding that begins at this place. */
function commandLinks(h: Harness, place: string): readonly string[] {
  const winding = linksOf(h).find((l) => l.kind === "device" && (l.a === place || l.b === place) && loadsOf(h).includes(l));
  const path = winding === undefined ? undefined : pathOfLoad(h, winding.id);
  return path?.kind === "path" ? path.feed.map((x) => x.link.id) : wiresAt(h, place).map((w) => w.id);
}

export const noStart: Procedure = {
  id: "cranks-no-start",
  name: "Cranks, does not start",
  asks: "Does the engine’s module live, and do coils and injectors get feed and control?",
  cautions: [
    CRANKING_CAUTION,
    "Fuel vapour and sparks: no naked flames, no spark tests near fuel. Ignition voltage can kill: nobody holds a lead or a coil.",
  ],
  choices: [],
  targetsOf: (h) =>
    devices(h, "module").flatMap((c) => (devices(h, "coil", "injector").some((d) => drives(h, c.id, d.id)) ? [targetOf(h, c.id)] : [])),
  plan({ harness: h, target, state }) {
    const crank = crankingState(h, state);
    const run = at(state, { key: "run" });
    const minus = minusOf(h);
    const own = devices(h, "coil", "injector").filter((d) => drives(h, target, d.id));
    const steps: Step[] = [
      see("answers", "Key on: does the module answer the scan tool?", run, { kind: "answers", module: target }, word("yes")),
      volts("battery", "While cranking; across the posts", crank, plusOf(h), minus, { kind: "at least", value: scaled(h, 9.6) }),
      volts(
        "supply",
        "While cranking; what the module has between supply and ground inside",
        crank,
        moduleSupply(target),
        moduleGround(target),
        AS_SOUND,
        {
          because: "Taken at its supply pin against its ground pin with the plug on.",
        },
      ),
    ].map((s) => atPins(h, target, s));
    const rules: Rule[] = [
      { when: { battery: "bad" }, words: "Battery first.", points: [partNameIn(minus)] },
      {
        when: { supply: "bad" },
        words: "The module’s own supply or ground fails while cranking.",
        points: [target, ...links(h, target, "feed"), ...links(h, target, "ground")],
      },
      { when: { answers: "bad" }, words: "The module is silent: supply, ground, bus, in this order.", points: [target] },
    ];
    for (const d of own) {
      const feed = feedPin(h, d.id, target);
      if (feed !== undefined) {
        steps.push(volts(`feed ${d.id}`, `While cranking; feed of ${called(h, d.id)}`, crank, feed, minus, AS_SOUND));
        rules.push({
          when: { [`feed ${d.id}`]: "bad" },
          words: `${called(h, d.id)} has no good feed; see what shares it.`,
          points: links(h, d.id, "feed"),
        });
      }
      steps.push(
        see(
          `works ${d.id}`,
          `While cranking; ${called(h, d.id)} works (light of an LED tester, sound, scope)`,
          crank,
          { kind: "part", part: d.id },
          AS_SOUND,
        ),
      );
      rules.push({
        when: { [`works ${d.id}`]: "bad" },
        words: `${called(h, d.id)} does not work: go on with coil and injector control there.`,
        points: [d.id],
      });
    }
    rules.push({
      when: {},
      words: "Module, feeds and control are good while cranking: look at fuel pressure, compression and timing.",
      points: [],
      sound: true,
    });
    return { steps, rules };
  },
};

/** Inside a module nobody measures: its supply and ground pins stand for it. */
function atPins(h: Harness, module: string, step: Step): Step {
  const o = step.test.observe;
  if (o.kind !== "volts" || !isInnerPlace(o.red)) return step;
  const way = waysOf(h, module);
  return way === undefined ? step : { ...step, test: { ...step.test, observe: { kind: "volts", red: way.near, black: way.far } } };
}

function drives(h: Harness, module: string, part: string): boolean {
  const way = waysOf(h, part);
  const near = [...(way?.ground ?? []), ...(way?.feed ?? [])];
  return near.some((x) => x.link.id.startsWith(`${module}.`) || x.to.startsWith(`${module}.`) || x.from.startsWith(`${module}.`));
}

/** The pin of a coil or injector that is not the module's. */
function feedPin(h: Harness, part: string, module: string): string | undefined {
  const way = waysOf(h, part);
  if (way === undefined) return undefined;
  return way.feed.some((x) => x.link.id.startsWith(`${module}.`)) ? way.far : way.near;
}
