/** What an eye or ear makes of a share: the borders between the words, for predicting, judging and wording alike. */

/** From here on a part does all that it can, and below the other nothing; shares of what it does when rated. */
export const FULL_WORK = 0.72;
export const NO_WORK = 0.06;
/** Widths over which those borders are blurred, as people differ. */
export const FULL_WORK_BLUR = 0.04;
export const NO_WORK_BLUR = 0.012;

/** From here on it does more than it should: too fast, too bright, too high. Share of what it should do. */
export const TOO_MUCH_WORK = 1.35;
export const TOO_MUCH_BLUR = 0.06;

/** How a part works that does this share of what it should. */
export const workWord = (share: number): "too much" | "full" | "weak" | "none" =>
  share > TOO_MUCH_WORK ? "too much" : share > FULL_WORK ? "full" : share > NO_WORK ? "weak" : "none";

export const LAMP_LOOKS = ["bright", "dim", "glowing", "dark"] as const;
export type LampLook = (typeof LAMP_LOOKS)[number];

/** Light of a filament as an eye names it beside a lamp at full voltage. */
export const lampLook = (share: number): LampLook => (share > 0.6 ? "bright" : share > 0.05 ? "dim" : share > 0.001 ? "glowing" : "dark");
