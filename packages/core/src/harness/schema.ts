import { z } from "zod";

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

export const KEY_POSITIONS = ["off", "accessory", "run", "crank"] as const;
export type KeyPosition = (typeof KEY_POSITIONS)[number];

const positive = z.number().positive().finite();
const componentId = z.string().regex(/^[A-Za-z][A-Za-z0-9_]*$/);
const common = { id: componentId, label: z.string().max(80).optional(), at: z.string().max(80).optional() };

export const battery = z.object({
  ...common,
  kind: z.literal("battery"),
  restVolts: positive,
  internalOhms: positive,
  /** Terminal voltage with the alternator charging. */
  chargeVolts: positive,
  /** Current the starter takes from the terminals when the circuit itself holds no starter. */
  crankAmps: z.number().nonnegative().finite(),
});
export const fuse = z.object({ ...common, kind: z.literal("fuse"), ratingAmps: positive });
export const switchPart = z.object({
  ...common,
  kind: z.literal("switch"),
  /** "hand": set in the vehicle state by name; otherwise the key position from which it closes. */
  closedBy: z.enum(["hand", "accessory", "run", "crank"]),
});
export const connector = z.object({ ...common, kind: z.literal("connector") });
export const splice = z.object({ ...common, kind: z.literal("splice") });
export const ground = z.object({ ...common, kind: z.literal("ground"), on: z.string().regex(/^[a-z][a-z0-9]*$/) });
export const LOAD_SORTS = ["motor", "lamp", "heater", "coil", "load"] as const;
export const load = z.object({
  ...common,
  kind: z.literal("load"),
  sort: z.enum(LOAD_SORTS),
  /** At nominal voltage. */
  rating: z.union([z.object({ amps: positive }), z.object({ watts: positive }), z.object({ ohms: positive })]),
  pins: z.tuple([z.string(), z.string()]),
});
export const component = z.discriminatedUnion("kind", [battery, fuse, switchPart, connector, splice, ground, load]);

const pinRef = z.object({ component: componentId, pin: z.string() });
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
});
const joint = z.object({ from: pinRef, to: pinRef });

/**
 * What the wiring of one circuit is. Pins are "1" and "2" for two-pin parts (a load may name its own), "+" and "-" for the
 * battery, "1" for splices and grounds, and cavity number plus side ("4a", "4b") for connectors. `joints` are parts
 * plugged into each other with no wire between.
 */
export const harness = z.object({
  format: z.literal("rheonom-harness"),
  version: z.literal(1),
  name: z.string().max(120),
  nominalVolts: z.union([z.literal(6), z.literal(12), z.literal(24), z.literal(48)]),
  components: z.array(component),
  wires: z.array(wire),
  joints: z.array(joint),
});

export type Harness = z.infer<typeof harness>;
export type Component = z.infer<typeof component>;
export type Battery = z.infer<typeof battery>;
export type Load = z.infer<typeof load>;
export type Wire = z.infer<typeof wire>;
export type PinRef = z.infer<typeof pinRef>;
