import { acrossPlug, type Harness, linkOf, lookupOf, partNameIn, pinPlace, wiresAt } from "../harness/index.ts";
import { at, called, devices, minusOf, opening, pin, plusOf, scaled, targetOf, waysOf } from "./finding.ts";
import { operationsOf } from "./operations.ts";
import { AS_SOUND, drop, see, volts, word, type Procedure, type Rule, type Setting, type Step } from "./procedure.ts";

import { BATTERY_CAUTION, links, battery, RESTED_VOLTS, RUNNING_CAUTION } from "./starting.ts";

export const charging: Procedure = {
  id: "charging",
  name: "Charging",
  asks: "Does the alternator give enough, does it arrive, and does its control reach it?",
  cautions: [RUNNING_CAUTION, BATTERY_CAUTION, "Never take the battery off while the engine runs: the peak destroys modules."],
  choices: [],
  targetsOf: (h) => devices(h, "alternator").map((c) => targetOf(h, c.id)),
  plan({ harness: h, target, state }) {
    const [plus, minus] = [plusOf(h), minusOf(h)];
    const idle = at(state, { key: "run", engine: "idling" });
    const run = at(state, { key: "run" });
    const loaded = { ...idle, on: heavySwitches(h) };
    const output = `${target}.B+`;
    const wire = wiresAt(h, output)[0]?.id;
    const steps: Step[] = [
      volts("rest", "Everything off, surface charge removed; across the posts", at(state, {}), plus, minus, {
        kind: "at least",
        value: scaled(h, RESTED_VOLTS),
      }),
      see(
        "belt",
        "Engine off: belt, tensioner, pulley",
        at(state, {}),
        { kind: "check", at: target, what: "belt tight, dry and whole; pulley turns with it" },
        word("as it should be"),
      ),
      volts("output", "Idling, little on; across the posts", idle, plus, minus, {
        kind: "between",
        low: scaled(h, 13.4),
        high: scaled(h, 15.2),
      }),
      volts("loaded", "Idling, heavy consumers on; across the posts", loaded, plus, minus, AS_SOUND),
      volts("feed drop", "Same; red on the alternator’s output, black on the positive post", loaded, output, plus, drop("wire"), {
        because: "It must be measured while current flows; unloaded a bad cable shows nothing.",
      }),
      volts(
        "ground drop",
        "Same; red on the alternator’s case, black on the negative post",
        loaded,
        `${target}.31`,
        minus,
        drop("ground side"),
      ),
    ];
    if (wire !== undefined) steps.push(see("amps", "Same; clamp around the output wire", loaded, { kind: "amps", around: wire }, AS_SOUND));
    const rules: Rule[] = [
      { when: { belt: "bad" }, words: "Belt or pulley first.", points: [target] },
      {
        when: { "feed drop": "bad" },
        words: "The output does not get to the battery: cable, main fuse, their joints.",
        points: links(h, target, "feed").concat(wire ?? []),
      },
      {
        when: { "ground drop": "bad" },
        words: "The alternator’s ground is poor: its bracket, the engine strap.",
        points: [...links(h, target, "ground"), ...wiresAt(h, pinPlace(target, "31")).map((w) => w.id)],
      },
    ];
    const lamp = pin(h, target, "L");
    if (lamp !== undefined) {
      const bulb = lampOn(h, lamp);
      if (bulb !== undefined) {
        steps.push(
          see("lamp", `Key on, engine stopped: ${called(h, bulb)} lights`, run, { kind: "part", part: bulb }, word("full", "weak")),
          see(
            "lamp wire",
            "Key off, lamp wire off at the alternator, key on: the lamp goes out",
            opening(run, target),
            { kind: "part", part: bulb },
            word("none"),
            {
              only: { lamp: "good" },
              because: "It goes out: the alternator pulled it down, as it should. It stays lit: the wire is grounded on its way.",
            },
          ),
        );
        rules.push(
          {
            when: { "lamp wire": "bad" },
            words: "The lamp stays lit with its wire off at the alternator: the wire is grounded on its way.",
            points: wiresAt(h, lamp).map((w) => w.id),
          },
          {
            when: { lamp: "bad" },
            words:
              "The charge lamp does not light with the key on: without it the alternator may not begin. Lamp, fuse, wire, then the alternator’s own path.",
            points: [bulb, ...wiresAt(h, lamp).map((w) => w.id)],
          },
        );
      }
    }
    for (const [name, words] of [
      ["C", "command"],
      ["M", "monitor"],
    ] as const) {
      const here = pin(h, target, name);
      const there = here === undefined ? undefined : moduleEnd(h, here);
      if (here === undefined || there === undefined) continue;
      steps.push(
        volts(`${words} at the module`, `Idling; ${words} at the module’s end`, idle, there, minus, AS_SOUND),
        volts(`${words} at the alternator`, `Idling; ${words} at the alternator’s end`, idle, here, minus, {
          kind: "same as",
          step: `${words} at the module`,
          within: scaled(h, 0.25),
        }),
      );
      rules.push({
        when: { [`${words} at the module`]: "bad", [`${words} at the alternator`]: "good" },
        words: `The ${words} is wrong at both ends alike: the module at one end or the alternator at the other holds it there. Unplug the alternator and read again.`,
        points: [partNameIn(there), target],
      });
      rules.push({
        when: { [`${words} at the alternator`]: "bad" },
        words: `The ${words} is not the same at both ends: the wire between.`,
        points: wiresAt(h, here).map((w) => w.id),
      });
    }
    if (pin(h, target, "LIN") !== undefined) {
      steps.push(volts("lin", "Idling; mean volts of the LIN line at the alternator", idle, `${target}.LIN`, minus, AS_SOUND));
      rules.push({
        when: { lin: "bad" },
        words: "The LIN line does not stand where it should: grounded, open, or held.",
        points: wiresAt(h, pinPlace(target, "LIN")).map((w) => w.id),
      });
    }
    steps.push(
      see(
        "ripple",
        "Loaded; meter on AC volts across the posts",
        loaded,
        { kind: "check", at: target, what: `ripple below ${scaled(h, 0.5).toFixed(1)} V AC` },
        word("as it should be"),
        {
          because: "A diode that is open or shorted shows as ripple and loses a third of the current or more.",
        },
      ),
    );
    rules.push(
      { when: { ripple: "bad" }, words: "Too much ripple: a diode of the alternator is gone.", points: [target] },
      {
        when: { output: "bad", "feed drop": "good", "ground drop": "good" },
        words: "The output is not what it should be with belt, cables and control in order: the alternator or its regulator.",
        points: [target],
      },
      {
        when: { output: "bad" },
        words:
          "The output is not what it should be, and its way to the battery could not be measured here: cables and the source itself are left.",
        points: [target, ...links(h, target, "feed")],
      },
      {
        when: { loaded: "bad", "feed drop": "good", "ground drop": "good" },
        words: "It gives way under load: belt slip, a diode, or a worn alternator.",
        points: [target],
      },
      {
        when: { rest: "bad" },
        words: "Charging works, and the battery at rest is not charged: charge it, test it by itself, and look for a drain.",
        points: [partNameIn(plus)],
      },
      { when: {}, words: "Charging is good: output, both drops and control.", points: [], sound: true },
    );
    return { steps, rules };
  },
};

/** Hand switches of up to four consumers that take most. */
function heavySwitches(h: Harness): string[] {
  const heavy = operationsOf(h)
    .filter((o) => o.state.engine === "stopped" && o.state.on.length === 1)
    .map((o) => ({ on: o.state.on[0]!, amps: Math.abs(o.view.ampsOf([], h.components.find((c) => c.kind === "battery")!.id) ?? 0) }));
  return [
    ...new Set(
      heavy
        .sort((p, q) => q.amps - p.amps)
        .slice(0, 4)
        .map((x) => x.on),
    ),
  ].sort();
}

function lampOn(h: Harness, place: string): string | undefined {
  const wire = wiresAt(h, place)[0];
  if (wire === undefined) return undefined;
  return h.components.find((c) => {
    if (c.kind !== "load" || c.sort !== "lamp") return false;
    const way = waysOf(h, c.id);
    return way?.ground.some((x) => x.link.id === wire.id) === true || way?.feed.some((x) => x.link.id === wire.id) === true;
  })?.id;
}

/** The module's pin at the other end of a wire's copper. */
function moduleEnd(h: Harness, place: string): string | undefined {
  const seen = new Set([place]);
  for (const here of seen) {
    const part = lookupOf(h).parts.get(partNameIn(here));
    if (here !== place && part?.kind === "device" && part.device === "module") return here;
    for (const w of wiresAt(h, here)) {
      const l = linkOf(h, w.id)!;
      seen.add(l.a).add(l.b);
    }
    if (part?.kind === "connector") seen.add(acrossPlug(here));
  }
  return undefined;
}

export const drain: Procedure = {
  id: "parasitic-drain",
  name: "Parasitic drain",
  asks: "What keeps taking current once everything sleeps?",
  cautions: [
    BATTERY_CAUTION,
    "A meter on amps in series is a fuse that somebody forgets: a clamp, or the drop across each fuse, leaves the circuit as it is and wakes nothing.",
  ],
  choices: [],
  targetsOf: battery.targetsOf,
  plan({ harness: h, target, state }: Setting) {
    const modules = devices(h, "module").map((c) => c.id);
    const sleeping = at(state, { asleep: [...modules].sort() });
    const cables = wiresAt(h, minusOf(h));
    // Several cables on the post: what leaves by one may come back by another.
    const around = cables.length === 1 ? cables[0]!.id : partNameIn(minusOf(h));
    const fuses = h.components.filter((c) => c.kind === "fuse").slice(0, MOST_FUSES);
    const limit = h.nominalVolts >= 24 ? 0.08 : 0.05;
    return {
      steps: [
        see(
          "sleep",
          "Doors latched, bonnet latch closed by hand, key away; wait as long as the manufacturer states",
          at(state, {}),
          { kind: "check", at: target, what: "all modules have gone to sleep" },
          word("as it should be"),
        ),
        see(
          "drain",
          "Zeroed low-current clamp around all cables on the negative post",
          sleeping,
          { kind: "amps", around },
          { kind: "between", low: -limit, high: limit },
        ),
        ...fuses.map((f) =>
          volts(
            `fuse ${f.id}`,
            `Drop across ${called(h, f.id)}, probes on its two test points`,
            sleeping,
            `${f.id}.1`,
            `${f.id}.2`,
            AS_FUSE_AT_REST,
            { only: { drain: "bad" } },
          ),
        ),
      ],
      rules: [
        {
          when: { sleep: "bad" },
          words:
            "Something stays awake: find out which module, and what keeps it up (a door switch, a bus that is woken), before anything is measured.",
          points: [],
        },
        ...fuses.map((f): Rule => ({
          when: { [`fuse ${f.id}`]: "bad" },
          words: `Current flows through ${called(h, f.id)} though everything sleeps. What it feeds is unplugged one by one until the drop is gone.`,
          points: [f.id],
        })),
        {
          when: { drain: "bad" },
          words: "There is a drain, and no fuse shows it: what is not fused (alternator, starter, things fitted later).",
          points: devices(h, "alternator", "starter").map((c) => c.id),
        },
        { when: {}, words: "No more is taken than belongs.", points: [], sound: true },
      ],
    };
  },
};
const MOST_FUSES = 40;
/** 0.2 mV across a fuse of a few mΩ is some tens of mA. */
const AS_FUSE_AT_REST = { kind: "between", low: -0.0002, high: 0.0002 } as const;
