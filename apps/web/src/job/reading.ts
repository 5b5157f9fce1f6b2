import { linksOf, parsePlace, type Harness } from "@rheonom/core/harness";
import { parseReading, type Leads } from "@rheonom/core/instruments";
import type { EventOf } from "@rheonom/core/job";
import type { BenchDraft, MeterMode } from "./bench.ts";

export type Shown = EventOf<"reading-taken">["data"]["shown"];
export type Typed =
  { readonly kind: "ok"; readonly shown: Shown; readonly text: string } | { readonly kind: "bad"; readonly message: string };

const UNIT: Record<MeterMode, string> = { volts: "V", ohms: "ohm", amps: "A" };
const METER: Record<MeterMode, string> = { volts: "volts", ohms: "ohms", amps: "the clamp" };

/** Reads what was typed with the meter set to `mode`. A number without a unit has the meter's; OL is a result with the meter on ohms only. */
export function readTyped(text: string, mode: MeterMode): Typed {
  const bare = /^[+\-−]?\s*[\d.]+$/.test(text.trim());
  const read = parseReading(bare ? `${text.trim()} ${UNIT[mode]}` : text);
  switch (read.kind) {
    case "bad":
      return { kind: "bad", message: read.message };
    case "over":
      if (mode === "volts")
        return { kind: "bad", message: "OL on volts: choose a higher range, then type the reading. For ohms, set the meter to ohms." };
      if (mode === "amps") return { kind: "bad", message: "The clamp is over its range: choose a higher one, then type the current." };
      return { kind: "ok", shown: { kind: "over", quantity: "ohms" }, text: read.text };
    case "value":
      if (read.quantity !== mode)
        return {
          kind: "bad",
          message: `That is a reading in ${METER[read.quantity]}, but the meter is set to ${METER[mode]}. Set the meter, or correct the unit.`,
        };
      return {
        kind: "ok",
        shown: { kind: "value", quantity: read.quantity, value: read.value },
        text: bare ? `${text.trim()} ${UNIT[mode].replace("ohm", "Ω")}` : read.text,
      };
  }
}

/** The leads that belong to what was shown. */
export const leadsFor = (shown: Shown, red: string, black: string, around: string): Leads =>
  shown.quantity === "amps" ? { quantity: "amps", around } : { quantity: shown.quantity, red, black };

/** Where the black lead is when nobody says so. */
export const blackOf = ({ black }: Pick<BenchDraft, "black">): string => (black === "" ? "-" : black);

/** What a clamp can be put around: a wire or part, or the battery, which is all cables on its negative post. */
export function clampedIn(harness: Harness, text: string): string | undefined {
  const wanted = text.trim().toLowerCase();
  const known = [...linksOf(harness).map((l) => l.id), ...harness.components.flatMap((c) => (c.kind === "battery" ? [c.id] : []))];
  return known.find((id) => id.toLowerCase() === wanted);
}

/** The leads as they stand in the fields; undefined as long as one is nowhere, or both are on one point. */
export function leadsOnBench(harness: Harness, draft: BenchDraft): Leads | undefined {
  if (draft.mode === "amps") {
    const around = clampedIn(harness, draft.around);
    return around === undefined ? undefined : { quantity: "amps", around };
  }
  const at = parsePlace(harness, draft.red);
  const from = parsePlace(harness, blackOf(draft));
  if (at.kind !== "place" || from.kind !== "place" || at.place === from.place) return undefined;
  return { quantity: draft.mode, red: at.place, black: from.place };
}

/** A value beside one that a module tells: a meter's volts, a thermometer's degrees, a gauge's share. */
export type GaugeUnit = "V" | "°C" | "%";
const GAUGE = /^([+\-−]?\d+(?:[.,]\d+)?)\s*(°\s*C|C|°|%)?$/i;

/** Reads what was typed beside a live value, in its unit: "440 mV" is 0.44 V, and no temperature. Undefined for what cannot be read. */
export function readGauge(text: string, unit: GaugeUnit): number | undefined {
  if (unit === "V") {
    const typed = readTyped(text, "volts");
    return typed.kind === "ok" && typed.shown.kind === "value" ? typed.shown.value : undefined;
  }
  const [, number, said] = GAUGE.exec(text.trim()) ?? [];
  if (number === undefined || (said !== undefined && (said === "%") !== (unit === "%"))) return undefined;
  return Number(number.replace(",", ".").replace("−", "-"));
}
