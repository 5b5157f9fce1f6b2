import { unreachable } from "../quantity/index.ts";
import { LIN_DOMINANT_SHARE, LIN_RECESSIVE_SHARE } from "./pins/lin.ts";

/** How a bus is wired: two lines against each other, one line pulled up to the supply, one line driven up from rest. */
export type BusSort = "can" | "lin" | "single wire";

/** What a receiver makes of its lines: held by a driver, free, or neither for sure. */
export type BusLevel = "dominant" | "recessive" | "between";

/** Receivers: CAN dominant above and recessive below so many volts between the lines (ISO 11898-2); a single wire at half of the sent level (SAE J2411). */
const CAN_DOMINANT_VOLTS = 0.9;
const CAN_RECESSIVE_VOLTS = 0.5;
/** Between these means of both lines against its own ground a CAN receiver must work (ISO 11898-2). */
const CAN_LEAST_COMMON_VOLTS = -2;
const CAN_MOST_COMMON_VOLTS = 7;
const WIRE_THRESHOLD_VOLTS = 2;
/** Share of its supply from which on a LIN receiver can tell anything, V. */
const LEAST_SUPPLY_VOLTS = 0.1;

/** The level at a receiver. `lines`: V of each of its pins against its own ground (CAN high before low); `supply`: its own, V. */
export function busLevel(sort: BusSort, lines: readonly number[], supply: number): BusLevel {
  const first = lines[0]!;
  switch (sort) {
    case "can": {
      const apart = first - lines[1]!;
      const common = (first + lines[1]!) / 2;
      if (common < CAN_LEAST_COMMON_VOLTS || common > CAN_MOST_COMMON_VOLTS) return "between";
      return apart > CAN_DOMINANT_VOLTS ? "dominant" : apart < CAN_RECESSIVE_VOLTS ? "recessive" : "between";
    }
    case "single wire":
      return first > WIRE_THRESHOLD_VOLTS ? "dominant" : "recessive";
    case "lin": {
      // ISO 17987-4: by the share of the receiver's own supply.
      const share = first / Math.max(LEAST_SUPPLY_VOLTS, supply);
      return share > LIN_RECESSIVE_SHARE ? "recessive" : share < LIN_DOMINANT_SHARE ? "dominant" : "between";
    }
    default:
      return unreachable(sort);
  }
}
