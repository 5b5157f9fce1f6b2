import { CRANKSHAFT_RPM, type Surroundings } from "./device.ts";
import { positive } from "./settings.ts";

/** Teeth that pass in one turn of the crankshaft, of a wheel that the engine turns; a half for one tooth on a camshaft. Left out for a wheel that turns otherwise. */
export const teethPerTurn = positive.optional();

/** How often a tooth of the engine's wheel passes over time, Hz; 0 at rest, and where the wheel is none of the engine's. */
export const toothHertz = (teeth: number | undefined, at: Pick<Surroundings, "engine" | "transient">): number =>
  teeth === undefined || at.transient !== true ? 0 : (teeth * CRANKSHAFT_RPM[at.engine]) / 60;
