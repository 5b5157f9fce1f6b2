/** How what is wrong looks: chafed insulation, corrosion or a loose or broken joint, a blown fuse. */
export type Damage = "rub" | "decay" | "burn";

/**
 * What a supposed fault makes a test show: V, Ω, A; a lamp's light or a part's work as share of what it should be; or the chance that something is so (answers, code,
 * look, swap, wiggle). `low` and `high`: the same half-way to the neighbouring severities. NaN: there is no telling.
 */
export interface Predicted {
  readonly value: number;
  readonly low: number;
  readonly high: number;
  /** Where a test lamp or meter would be void or the part chatters. */
  readonly oscillating?: boolean;
  /** Where a reading does not stand still: between which values it goes. */
  readonly between?: readonly [low: number, high: number];
  /** Of a part that should do nothing in this state: whatever it does nobody asked for. */
  readonly isUnasked?: boolean;
  /** What a look would find where it finds something; anything where left out. */
  readonly damage?: Damage;
  /** There would be nothing to read at all: the module that should tell it is asleep. */
  readonly isMute?: boolean;
}

export const UNKNOWN: Predicted = { value: NaN, low: NaN, high: NaN };
/** Nothing to read. */
export const MUTE: Predicted = { ...UNKNOWN, isMute: true };

/** One value, whatever the neighbouring severities show. */
export const exactly = (value: number): Predicted => ({ value, low: value, high: value });
