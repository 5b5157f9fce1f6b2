import type { Fault } from "@rheonom/core/circuit";
import { isAt } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";

/** How much a bad contact may be the better or worse while it is moved, as powers of ten. */
const MOVED_DECADES = 0.9;

/** The faults as they are at one moment while a loom, plug, ground or part is moved. */
export const shaken = (harness: Harness, faults: readonly Fault[], moving: string | undefined, chance: () => number): readonly Fault[] =>
  faults.map((f) =>
    moving !== undefined && f.kind === "series" && isAt(harness, f.link, moving)
      ? { ...f, ohms: f.ohms * 10 ** ((2 * chance() - 1) * MOVED_DECADES) }
      : f,
  );
