import type { MeterMode } from "../bench.ts";
import type { Via } from "./instrument-line.ts";

/** What a connected meter is turned to without being asked; undefined rests. On amps a meter is nearly a short between its leads: a real one is turned there only when somebody has said that they are off the circuit. */
export const turnsTo = (mode: MeterMode, isIdle: boolean, via: Via | undefined, agreed: boolean): MeterMode | undefined =>
  isIdle || (mode === "amps" && via !== "simulated" && !agreed) ? undefined : mode;

/** Where the keys go. */
export type Focus = "reading" | "field" | "control" | "nowhere";

const EDITING = ["Enter", "Backspace", "Delete", "Home", "End", "ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"];

/** Whether a key is the foot switch's, or one that is typed: what a person may mean for a field or a button stays theirs. */
export function isOfFoot(key: string, foot: string, focus: Focus): boolean {
  if (key !== foot) return false;
  if (foot.length > 1 && !EDITING.includes(foot)) return true;
  const presses = foot === " " || foot === "Enter";
  return focus === "nowhere" || (focus === "reading" ? presses : focus === "control" && !presses && !EDITING.includes(foot));
}
