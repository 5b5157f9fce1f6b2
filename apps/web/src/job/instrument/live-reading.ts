import { displayText, METER_OHMS, steadiness, type Leads, type Steadiness } from "@rheonom/core/instruments";
import type { EventOf, JobView } from "@rheonom/core/job";
import type { MeterMode } from "../bench.ts";
import { USUAL, type InstrumentState } from "./instrument-line.ts";

type ReadingData = EventOf<"reading-taken">["data"];

/** A value as a usual meter shows it, with its unit. */
export const meterText = (mode: MeterMode, value: number): string => displayText(mode, value).replace("ohm", "Ω");

/** What a connected meter shows, as it would be kept. */
export interface LiveReading {
  /** With its unit, as a meter shows it; "OL", "no reading", or what it said instead. */
  readonly text: string;
  readonly steadiness: Steadiness;
  /** Undefined where there is nothing that can be kept. */
  readonly kept: Pick<ReadingData, "text" | "shown" | "meter"> | undefined;
}

/** What the meter shows now, with the resistance of its own leads taken off ohms when its test has told it. Undefined while it is turned to something else. */
export function liveReading(now: InstrumentState, mode: MeterMode, view: Pick<JobView, "meterChecks">): LiveReading | undefined {
  if (now.status !== "connected" || now.function !== mode) return undefined;
  const { said, name } = now;
  const nulled = mode === "ohms" ? leadsOf(view, name) : undefined;
  const meter = {
    name,
    ...(nulled === undefined ? {} : { nulledOhms: nulled }),
    // A better one than usual tells no more: the model is off by more than that.
    ...(now.accuracyPercent > USUAL.accuracyPercent ? { accuracyPercent: now.accuracyPercent } : {}),
  };
  const off = nulled ?? 0;
  const steady = withoutLeads(steadiness(now.samples, mode), off);
  if (said === undefined) return { text: "…", steadiness: { kind: "waiting" }, kept: undefined };
  switch (said.kind) {
    case "value": {
      const value = mode === "ohms" ? Math.max(0, said.value - off) : said.value;
      // A steady reading is kept by the middle of its last moments, not by the digit that happens to stand there.
      const shown = steady.kind === "steady" && Number.isFinite(steady.value) ? steady.value : value;
      const text = meterText(mode, shown);
      return { text, steadiness: steady, kept: { text, shown: { kind: "value", quantity: mode, value: shown }, meter } };
    }
    case "over":
      return {
        text: "OL",
        steadiness: steady,
        kept: mode === "ohms" ? { text: "OL", shown: { kind: "over", quantity: "ohms" }, meter } : undefined,
      };
    case "none":
      return { text: "no reading", steadiness: { kind: "waiting" }, kept: undefined };
    case "odd":
      return { text: said.text.slice(0, 30), steadiness: { kind: "waiting" }, kept: undefined };
  }
}

function withoutLeads(s: Steadiness, off: number): Steadiness {
  const less = (v: number): number => (off === 0 ? v : Math.max(0, v - off));
  return s.kind === "steady"
    ? { kind: "steady", value: less(s.value) }
    : s.kind === "unsteady"
      ? { kind: "unsteady", low: less(s.low), high: less(s.high) }
      : s;
}

/** Resistance of the leads by the last test of a meter, Ω. */
function leadsOf(view: Pick<JobView, "meterChecks">, name: string): number | undefined {
  const ohms = view.meterChecks.findLast((c) => c.struck === undefined && c.data.meter === name)?.data.leadsOhms;
  // Beyond a few ohms it is a fault, and nothing to take off.
  return typeof ohms === "number" && ohms <= 1 ? ohms : undefined;
}

/** Leads with the input resistance of the meter that they belong to, where it is not the usual one. */
export const leadsOfMeter = (leads: Leads, inputOhms: number): Leads =>
  leads.quantity === "volts" && inputOhms !== METER_OHMS ? { ...leads, inputOhms } : leads;
