import { ohms, type Ohms } from "../quantity/index.ts";

/**
 * Sound contact resistances, taken inside the usual ranges: plugged power contact 1–5 mΩ, bolted stud 0.05–0.5 mΩ,
 * sheet metal between distant points 0.5–5 mΩ, a closed switch contact a few mΩ.
 */
export const CAVITY_OHMS: Ohms = ohms(2e-3);
export const SWITCH_OHMS: Ohms = ohms(5e-3);
/** Stud joint of 0.3 mΩ and half of a metre or two of sheet metal, so that two grounds are 1.6 mΩ apart. */
export const GROUND_OHMS: Ohms = ohms(0.8e-3);
/** Two parts plugged into each other. */
export const DIRECT_JOINT_OHMS: Ohms = ohms(0.2e-3);
