import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import type { CodeEntry, Misread, Scan } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { latestScan, trayInModel, type JobView } from "@rheonom/core/job";
import type { ToBrowser } from "@rheonom/contract/link";

/** What the Codes screen keeps and says: no interface, no line. */

/** Key and engine as they are said to be while codes are read. */
export type Asked = Pick<VehicleState, "key" | "engine">;

/** Key and engine as they were said to be, with what was unplugged, bridged or fitted; `told`: how the simulated vehicle stands, which knows better. */
export const scanState = (harness: Harness | undefined, view: JobView, asked: Asked, told?: VehicleState): VehicleState => ({
  ...(told ?? { ...REST_STATE, ...asked }),
  ...(harness === undefined ? {} : trayInModel(harness, view)),
});

/** A scan from codes that were typed or came from a file: who has a code answers, and some were said to be silent. */
export function scanFrom(codes: readonly CodeEntry[], silent: readonly string[], source: Scan["source"], takenAt: string): Scan {
  const heard = [...new Set(codes.map((c) => c.module).filter((m) => m !== "" && !silent.includes(m)))];
  const modules = [...heard.map((id) => ({ id, answers: true })), ...silent.map((id) => ({ id, answers: false }))];
  return { format: "rheonom-scan", version: 1, takenAt, source, modules, codes: [...codes] };
}

/** The lines that could not be read, for typing them again. */
export const linesLeft = (text: string, misread: readonly Misread[]): string => {
  const lines = text.split(/\r?\n/);
  return misread.map((m) => lines[m.line - 1]).join("\n");
};

/** Whether the codes that the vehicle has now are in the log. */
export const areWrittenDown = (view: JobView): boolean => {
  const latest = latestScan(view);
  return latest !== undefined && latest.clearsBefore >= view.clears;
};

/** What is said after a scan; nothing when all modules were asked and answered as they should. */
export const scanNotices = ({ complete, why, odd }: Extract<ToBrowser, { type: "scanned" }>): readonly string[] => [
  ...(complete ? [] : [why === "cancelled" ? "Stopped. What was read until then is kept." : `Scan stopped: ${why} What was read is kept.`]),
  ...odd.map((o) => `${o.module}: ${o.why}.`),
];

/** What is said after clearing, and whether any module was cleared. */
export function clearOutcome({ modules }: Extract<ToBrowser, { type: "cleared" }>): { readonly any: boolean; readonly notice: string } {
  const failed = modules.filter((x) => !x.cleared);
  return {
    any: failed.length < modules.length,
    notice:
      failed.length === 0
        ? "Cleared. Turn the key, ask all modules again, and see what has come back."
        : `Not cleared: ${failed.map((x) => `${x.id} (${x.why})`).join(", ")}.`,
  };
}
