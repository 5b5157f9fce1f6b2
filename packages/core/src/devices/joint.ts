import { ohms, type Ohms } from "../quantity/index.ts";

/**
 * Sound contact resistances, taken inside the usual ranges: plugged power contact 1–5 mΩ, bolted power stud 0.05–0.5 mΩ, sheet metal
 * between distant points 0.5–5 mΩ, a closed switch contact a few mΩ, the contact disc of a starter solenoid some tenths.
 * A joint is taken for a bolted one where a cable of HEAVY_CABLE_MM2 or more ends at it.
 */
export const HEAVY_CABLE_MM2 = 10;
const PLUGGED = ohms(2e-3);
const STUD = ohms(0.2e-3);
const CONTACT = ohms(5e-3);
const HEAVY_CONTACT = ohms(0.5e-3);
/** Stud joint of 0.3 mΩ and half of a metre or two of sheet metal, so that two grounds are 1.6 mΩ apart. */
const SHEET_GROUND = ohms(0.8e-3);
/** A cable lug on a casting or on the battery's own ground point. */
const CABLE_GROUND = ohms(0.3e-3);

/** Two parts plugged into each other. */
export const DIRECT_JOINT_OHMS: Ohms = ohms(0.2e-3);

/** `areaMm2`: the largest wire that ends at the joint. */
export const cavityOhms = (areaMm2: number): Ohms => (areaMm2 >= HEAVY_CABLE_MM2 ? STUD : PLUGGED);
/** Resistance of a closed switch contact, Ω. `areaMm2`: the largest wire that ends at it. */
export const switchOhms = (areaMm2: number): Ohms => (areaMm2 >= HEAVY_CABLE_MM2 ? HEAVY_CONTACT : CONTACT);
/** Resistance of a sound ground to its mass, Ω. `areaMm2`: the largest wire that ends at it. */
export const groundOhms = (areaMm2: number): Ohms => (areaMm2 >= HEAVY_CABLE_MM2 ? CABLE_GROUND : SHEET_GROUND);
