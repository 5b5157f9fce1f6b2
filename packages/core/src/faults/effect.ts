import { MODE_EFFECTS, type FailureMode, type ModeEffect } from "../devices/index.ts";
import { unreachable } from "../quantity/index.ts";

/** What a supposed fault does to the circuit, whatever the trade calls it. Set where the catalogue makes the fault. */
export const FAULT_EFFECTS = [
  ...MODE_EFFECTS,
  "short to ground",
  "short to feed",
  /** Two wires chafed through to each other. */
  "short to wire",
  /** Water between two cavities. */
  "water bridge",
  /** Not the vehicle but the measuring: a lead, the black lead's place, the lamp. */
  "lead",
] as const;
export type FaultEffect = (typeof FAULT_EFFECTS)[number];

/** What a failure mode of a device does: what the device says of it, else what its harm says by itself. */
export function effectOf({ effect, harm }: FailureMode): ModeEffect {
  if (effect !== undefined) return effect;
  switch (harm.kind) {
    case "open":
      return "open";
    case "series":
      return "series";
    case "shunt":
      return "shorted inside";
    case "stuck":
      return harm.closed ? "stuck closed" : "stuck open";
    case "settings":
      return "setting";
    default:
      return unreachable(harm);
  }
}

/** Whether a wire is chafed through: to metal, to a live wire, or to another one. */
export function isChafed(effect: FaultEffect): boolean {
  switch (effect) {
    case "short to ground":
    case "short to feed":
    case "short to wire":
      return true;
    case "open":
    case "series":
    case "water bridge":
    case "shorted inside":
    case "stuck closed":
    case "stuck open":
    case "holds":
    case "setting":
    case "lead":
      return false;
    default:
      return unreachable(effect);
  }
}

/** Whether current finds a way that it should not have, through chafed insulation, water or a part's own winding. */
export const isShort = (effect: FaultEffect): boolean => isChafed(effect) || effect === "water bridge" || effect === "shorted inside";

/** Whether a part drags or holds what is joined to it, so that the trouble goes when the part is unplugged. */
export const dragsItsNet = (effect: FaultEffect): boolean => isShort(effect) || effect === "stuck closed" || effect === "holds";

/** Whether the fault stays within what is in series with it: what merely hangs on the same net does not feel it. */
export const staysInSeries = (effect: FaultEffect): boolean => effect === "open" || effect === "series" || effect === "setting";
