import { z } from "zod";
import { batterySettings, DEVICE_NAMES, loadSettings, readDevice } from "../devices/index.ts";

/** Letters of IEC 60757 and the words a technician says. */
export const WIRE_COLOURS = {
  BK: "black",
  BN: "brown",
  RD: "red",
  OG: "orange",
  YE: "yellow",
  GN: "green",
  BU: "blue",
  VT: "violet",
  GY: "grey",
  WH: "white",
  PK: "pink",
  TQ: "turquoise",
} as const;
export type WireColour = keyof typeof WIRE_COLOURS;

const positive = z.number().positive().max(1e9);
const componentId = z.string().regex(/^[A-Za-z][A-Za-z0-9_]{0,39}$/);
/** Parts, wires or joints of one vehicle. */
const MOST_ITEMS = 20_000;
/** Name of a zone, an option or a segment of loom. */
const shortName = z.string().regex(/^[A-Za-z][A-Za-z0-9_-]{0,23}$/);
/** Options under which an item exists, all of them: "fridge", "!tow", "fridge&!tow". Without one it is on every vehicle. */
const when = z.string().regex(/^!?[A-Za-z][A-Za-z0-9_-]{0,23}(&!?[A-Za-z][A-Za-z0-9_-]{0,23}){0,5}$/);
const minutes = z.number().nonnegative().max(600);
const common = {
  id: componentId,
  label: z.string().max(80).optional(),
  /** Where it is, in words. */
  at: z.string().max(80).optional(),
  zone: shortName.optional(),
  when: when.optional(),
  /** The page of the diagram that shows it. */
  sheet: z.string().max(40).optional(),
  /** Minutes to get a lead onto it; its zone's when not said. */
  accessMinutes: minutes.optional(),
  /** Box and socket of fuses and relays. */
  box: z.string().max(40).optional(),
  slot: z.string().max(12).optional(),
};

export const battery = z.object({
  ...common,
  kind: z.literal("battery"),
  ...batterySettings.shape,
});
export const fuse = z.object({ ...common, kind: z.literal("fuse"), ratingAmps: positive });
export const switchPart = z.object({
  ...common,
  kind: z.literal("switch"),
  /** "hand": set in the vehicle state by name; otherwise the key position from which it closes. */
  closedBy: z.enum(["hand", "accessory", "run", "crank"]),
});
export const connector = z.object({
  ...common,
  kind: z.literal("connector"),
  /** Cavities of the face, used or not, and the rows they stand in; both follow from the use when not said. */
  ways: z.number().int().min(1).max(200).optional(),
  rows: z.number().int().min(1).max(12).optional(),
  sealed: z.boolean().optional(),
  /** False where a pin cannot be reached from the wire side. */
  backProbe: z.boolean().optional(),
});
export const splice = z.object({ ...common, kind: z.literal("splice") });
export const ground = z.object({
  ...common,
  kind: z.literal("ground"),
  on: z.string().regex(/^[a-z][a-z0-9]{0,23}$/),
  /** What unbolts it, such as "10 mm socket". */
  tool: z.string().max(40).optional(),
});
export const load = z.object({
  ...common,
  kind: z.literal("load"),
  ...loadSettings.shape,
  pins: z.tuple([z.string().max(24), z.string().max(24)]),
});
/** Anything with inner life: relay, module, sensor, alternator … What it is and which settings it takes stands in core/devices. */
export const device = z.object({
  ...common,
  kind: z.literal("device"),
  device: z.string().max(24),
  settings: z.record(z.string().max(40), z.unknown()).refine((s) => Object.keys(s).length <= 100, { message: "at most 100 settings" }),
});
export const component = z.discriminatedUnion("kind", [battery, fuse, switchPart, connector, splice, ground, load, device]);

const pinRef = z.object({ component: componentId, pin: z.string().max(24) });
export const wire = z.object({
  id: componentId,
  from: pinRef,
  to: pinRef,
  colour: z
    .string()
    .regex(/^[A-Z]{2}(\/[A-Z]{2})?$/)
    .optional(),
  areaMm2: positive,
  lengthM: positive,
  /** True when nobody gave the length and one metre was taken. */
  lengthAssumed: z.boolean().optional(),
  /** Segments of loom that it runs through, such as "dash" or "left sill": beside whom it lies. */
  segments: z
    .array(z.string().regex(/^[A-Za-z][A-Za-z0-9_-]{0,23}$/))
    .max(20)
    .optional(),
  when: when.optional(),
  sheet: z.string().max(40).optional(),
});
const joint = z.object({ from: pinRef, to: pinRef, when: when.optional() });

export const EXPOSURES = ["water", "heat", "rub", "flex", "vibration"] as const;
export type Exposure = (typeof EXPOSURES)[number];
const exposure = z.array(z.enum(EXPOSURES)).max(5);

const vehicle = z.object({
  make: z.string().min(1).max(40),
  model: z.string().max(60),
  years: z.string().max(20).optional(),
  engine: z.string().max(60).optional(),
});
const option = z.object({ id: shortName, text: z.string().max(80) });
/** A spot on the plan of the vehicle, which is seen from above with its front ahead. Whole percent are near enough for a hand. */
const spot = z.object({
  /** From the front end to the rear one, % of the length. */
  along: z.number().int().min(0).max(100),
  /** From the middle line, % of half the width; the left side is below 0. */
  across: z.number().int().min(-100).max(100),
  /** From the ground to the roof, % of the height. */
  height: z.number().int().min(0).max(100),
});
/** A part of the vehicle: how long it takes to get at it, and what it is exposed to. */
const zone = z.object({
  id: shortName,
  text: z.string().max(80),
  minutes,
  exposure,
  /** Why nobody measures there, such as "high voltage". */
  outOfBounds: z.string().max(80).optional(),
  /** Where it is; several spots where it is on both sides, such as "front doors". */
  plan: z.array(spot).min(1).max(8).optional(),
});
/** A segment of loom: where it runs and what it meets on the way. */
const loom = z.object({
  id: shortName,
  text: z.string().max(80),
  zone: shortName.optional(),
  exposure,
  /** What it crosses: "edge of the bulkhead", "over the exhaust". */
  crosses: z.string().max(80).optional(),
});
/** Which trouble code a module sets and about which of its pins, in our own words. */
const monitor = z.object({
  code: z.string().regex(/^[PCBU][0-9A-F]{4}(-[0-9A-F]{2})?$/),
  module: componentId,
  pin: z.string().max(12).optional(),
  /** The range outside which it is set, V at the pin, and for how long, s. */
  belowVolts: z.number().min(-1000).max(1000).optional(),
  aboveVolts: z.number().min(-1000).max(1000).optional(),
  seconds: z.number().nonnegative().max(3600).optional(),
  /** The module whose silence sets it. */
  silent: componentId.optional(),
  text: z.string().max(120),
});

/**
 * What the wiring of one circuit is. Pins are "1" and "2" for two-pin parts (a load may name its own), "+" and "-" for the
 * battery, "1" for splices and grounds, and cavity number plus side ("4a", "4b") for connectors. `joints` are parts
 * plugged into each other with no wire between.
 */
export const harness = z
  .object({
    format: z.literal("rheonom-harness"),
    version: z.literal(1),
    name: z.string().max(120),
    nominalVolts: z.union([z.literal(6), z.literal(12), z.literal(24), z.literal(48)]),
    components: z.array(component).max(MOST_ITEMS),
    wires: z.array(wire).max(MOST_ITEMS),
    joints: z.array(joint).max(MOST_ITEMS),
    vehicle: vehicle.optional(),
    options: z.array(option).max(60).optional(),
    zones: z.array(zone).max(100).optional(),
    looms: z.array(loom).max(200).optional(),
    monitors: z.array(monitor).max(2000).optional(),
  })
  .superRefine((h, context) => {
    for (const [i, part] of h.components.entries()) {
      if (part.kind !== "device") continue;
      const read = readDevice(part.device, part.settings);
      const path = ["components", i];
      if (read.kind === "unknown device")
        context.addIssue({
          code: "custom",
          path: [...path, "device"],
          message: `${part.id}: no device is called "${part.device}". Known: ${DEVICE_NAMES.join(", ")}`,
        });
      if (read.kind === "bad settings")
        for (const p of read.problems)
          context.addIssue({
            code: "custom",
            path: [...path, "settings", ...p.at.split(".")],
            message: `${part.id}: ${p.at} ${p.message}`,
          });
    }
  });

export type Harness = z.infer<typeof harness>;
export type Component = z.infer<typeof component>;
export type Battery = z.infer<typeof battery>;
export type Load = z.infer<typeof load>;
export type Device = z.infer<typeof device>;
export type Wire = z.infer<typeof wire>;
export type PinRef = z.infer<typeof pinRef>;
export type Connector = z.infer<typeof connector>;
export type Ground = z.infer<typeof ground>;
export type Vehicle = z.infer<typeof vehicle>;
export type Option = z.infer<typeof option>;
export type Zone = z.infer<typeof zone>;
export type Spot = z.infer<typeof spot>;
export type Loom = z.infer<typeof loom>;
export type Monitor = z.infer<typeof monitor>;
