import { unreachable } from "../quantity/index.ts";
import { CAN_DRIVE_OHMS, CAN_DRIVE_VOLTS } from "./pins/can.ts";
import { LIN_DOMINANT_SHARE, LIN_DRIVE_OHMS, LIN_RECESSIVE_SHARE } from "./pins/lin.ts";

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

/** What a line carries and what it is. */
export interface LineExtent {
  readonly nodes: number;
  readonly metres: number;
}

/** A node and a metre of wire, F: LIN against ground (ISO 17987-4: at most 250 pF a slave, 100 to 150 pF/m), CAN between the lines (ISO 11898-2 and usual twisted pairs). */
const LIN_NODE_FARADS = 220e-12;
const LIN_METRE_FARADS = 130e-12;
const CAN_NODE_FARADS = 100e-12;
const CAN_METRE_FARADS = 50e-12;
/** A bit of 19.2 kbit/s, s, and the share of it by which a rising edge may come late: the least duty of a recessive bit pair is 39.6 % (ISO 17987-4, D1). */
const LIN_BIT_S = 52e-6;
const LIN_LATE_SHARE = 0.208;
const LIN_DIODE_VOLTS = 0.6;
/** A bit of 500 kbit/s, s, and what its sample point and the delays of two transceivers leave for the edge. */
const CAN_BIT_S = 2e-6;
const CAN_LATE_SHARE = 0.35;

/**
 * Whether a line that its driver lets go is free within its bit. What pulls it back follows from what the driver leaves: `quiet` and `held` are V of the speaker's own pins against its
 * ground while nobody holds the line and while it does. Nothing is known of a single wire's edges: it always is.
 */
export function isFreeInTime(sort: BusSort, quiet: readonly number[], held: readonly number[], { nodes, metres }: LineExtent): boolean {
  switch (sort) {
    case "lin": {
      const [free, low] = [quiet[0]!, Math.max(1e-6, held[0]!)];
      const pullOhms = (LIN_DRIVE_OHMS * Math.max(0, free - LIN_DIODE_VOLTS - low)) / low;
      const riseS = -Math.log(1 - LIN_RECESSIVE_SHARE) * pullOhms * (nodes * LIN_NODE_FARADS + metres * LIN_METRE_FARADS);
      return riseS <= LIN_LATE_SHARE * LIN_BIT_S;
    }
    case "can": {
      const apart = held[0]! - held[1]!;
      if (apart <= CAN_RECESSIVE_VOLTS) return true;
      const acrossOhms = (2 * CAN_DRIVE_OHMS * apart) / Math.max(1e-6, CAN_DRIVE_VOLTS - apart);
      const fallS = Math.log(apart / CAN_RECESSIVE_VOLTS) * acrossOhms * (nodes * CAN_NODE_FARADS + metres * CAN_METRE_FARADS);
      return fallS <= CAN_LATE_SHARE * CAN_BIT_S;
    }
    case "single wire":
      return true;
    default:
      return unreachable(sort);
  }
}
