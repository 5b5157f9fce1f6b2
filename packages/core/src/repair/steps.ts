import { lookupOf, partNameIn, type Harness, type Wire } from "../harness/index.ts";
import { isRestraint } from "./joint-plan.ts";

/** A step of a repair, in the order in which it is done. */
export interface RepairStep {
  /** Stays the same for the same step, so that a tick keeps its meaning. */
  readonly id: string;
  readonly words: string;
  /** Hazard, then action; undefined where there is none. */
  readonly caution: string | undefined;
}

/** How a repair is done, as far as its steps go. */
export type RepairWay = "contact" | "wire" | "ground" | "fuse" | "part" | "other";

export interface StepsQuestion {
  readonly harness: Harness;
  /** What is repaired. */
  readonly at: string;
  readonly way: RepairWay;
  /** Hybrid or electric. */
  readonly highVoltage: boolean;
}

const step = (id: string, words: string, caution?: string): RepairStep => ({ id, words, caution });

/** mm² from which a cable carries the battery's or the starter's current. */
const HEAVY_MM2 = 10;

/** Whether the battery has to come off: a module is opened up, a heavy cable is worked on, or a restraint circuit is near. */
export function wantsBatteryOff(harness: Harness, at: string, way: RepairWay): boolean {
  const { parts, wires } = lookupOf(harness);
  const wire = wires.get(at);
  const part = parts.get(partNameIn(at));
  const touched = wire !== undefined ? [wire] : harness.wires.filter((w) => w.from.component === part?.id || w.to.component === part?.id);
  const isModule = part?.kind === "device" && part.device === "module";
  return (
    touched.some((w) => w.areaMm2 >= HEAVY_MM2 || isRestraint(harness, w)) || (way === "part" && (isModule || part?.kind === "battery"))
  );
}

/**
 * The steps of a repair in their order, with the caution of each where it applies: memory kept and modules asleep before the battery comes off, negative off first and on last, the spot opened,
 * mended, closed, and everything undone. What the manufacturer states goes before it.
 */
export function repairSteps({ harness, at, way, highVoltage }: StepsQuestion): readonly RepairStep[] {
  const { parts, wires } = lookupOf(harness);
  const part = parts.get(partNameIn(at));
  const wire = wires.get(at);
  const batteryOff = wantsBatteryOff(harness, at, way);
  const touched = wire !== undefined ? [wire] : part === undefined ? [] : wiresAtPart(harness, part.id);
  const restraint = touched.some((w) => isRestraint(harness, w));
  const zone = harness.zones?.find((z) => z.id === part?.zone);
  const under = /under|floor|sill|chassis/i.test(`${part?.at ?? ""} ${zone?.text ?? ""}`);
  return [
    ...(highVoltage
      ? [
          step(
            "high voltage",
            "Have the high-voltage system switched off and proven dead by a qualified person, if orange parts are near",
            "Orange cables can kill: keep out, and leave isolating and proving dead to qualified people.",
          ),
        ]
      : []),
    ...(under
      ? [
          step(
            "support",
            "Vehicle level, wheels chocked, supported on stands",
            "A vehicle on a jack falls: never go under one that is not on stands.",
          ),
        ]
      : []),
    step("key off", "Key off and out, doors closed, modules asleep (wait as the manufacturer states)"),
    ...(batteryOff
      ? [
          step("memory", "Note radio code and settings; connect a memory keeper if the manufacturer allows one"),
          step(
            "negative off",
            "Battery negative off first",
            "A spanner from positive to metal burns: jewellery off, negative first, eye protection.",
          ),
          ...(restraint
            ? [
                step(
                  "restraint wait",
                  "Wait as the manufacturer states before a restraint connector is touched",
                  "A squib can fire for minutes after the battery is off: wait, and never measure its circuit.",
                ),
              ]
            : []),
        ]
      : [
          step(
            "unplug",
            way === "fuse" ? "Consumer switched off" : "Feed of this circuit dead: fuse pulled or connector unplugged",
            "Unplugging under current pits the contact: load off first.",
          ),
        ]),
    step("open", wire !== undefined ? "Open the loom at the damage and some way to both sides" : "Expose the place"),
    ...mendSteps(way),
    ...(way === "wire" || way === "contact" ? [step("neighbours", "Neighbours looked at, each ticked")] : []),
    step("cause", "Cause taken away: edge guarded, clip moved, re-routed or sealed"),
    step("close", way === "wire" ? "Loom taped and clipped as it was, covers on, connectors locked" : "Covers on, connectors locked"),
    ...(batteryOff
      ? [
          step(
            "negative on",
            "Battery negative on last",
            "A spark beside a charging battery can set off its gas: ventilate, consumers off.",
          ),
          step("settings", "Clock, windows, steering angle and radio set again as the manufacturer states"),
        ]
      : [step("plug in", "Fuse or connector back in")]),
    step("clear", "Codes that our own work set read, written down and cleared"),
  ];
}

function mendSteps(way: RepairWay): readonly RepairStep[] {
  switch (way) {
    case "contact":
      return [step("contact", "Terminal cleaned, grip tested with the mating pin's gauge, seal looked at; renewed if it does not hold")];
    case "wire":
      return [
        step("cut", "Cut back to bright copper, joints staggered"),
        step("join", "Joined, pulled at, sealed", "A hot-air gun near fuel or foam sets fire: shield it, ventilate, extinguisher at hand."),
      ];
    case "ground":
      return [
        step("bare", "Lug and seat bright, paint and rust off"),
        step("tighten", "Fastener tightened as the manufacturer states"),
        step("protect", "Sealed against water once it is tight"),
      ];
    case "fuse":
      return [step("fuse", "Fuse of the drawn rating, never larger", "A larger fuse lets the wire burn: fit the rating on the diagram.")];
    case "part":
      return [
        step("part", "Old and new part compared: number, pins, supply"),
        step("fit", "Fitted, torque as the manufacturer states"),
        step("code", "Coding, adaptation or learning done as the manufacturer states"),
      ];
    case "other":
      return [step("do", "Done as written")];
  }
}

const wiresAtPart = (harness: Harness, id: string): readonly Wire[] =>
  harness.wires.filter((w) => w.from.component === id || w.to.component === id);
