import { useMemo, useSyncExternalStore } from "react";
import { instrumentOf, type InstrumentLine, type InstrumentState } from "./instrument-line.ts";
import type { InstrumentKind } from "./port.ts";

/** The meter or the scope that is connected for a job, and what it shows. */
export function useInstrument(jobId: string, what: InstrumentKind): { readonly line: InstrumentLine; readonly now: InstrumentState } {
  const line = useMemo(() => instrumentOf(jobId, what), [jobId, what]);
  return { line, now: useSyncExternalStore(line.subscribe, line.state) };
}
