import { writeCsv } from "../notation/index.ts";
import type { Report } from "./report.ts";

const HEAD = [
  "at",
  "by",
  "phase",
  "quantity",
  "red",
  "black",
  "around",
  "state",
  "typed",
  "value",
  "expected",
  "unit",
  "instrument",
  "meter",
  "struck",
] as const;
const UNIT = { volts: "V", ohms: "ohm", amps: "A" } as const;

/** The readings of a report as a table for a spreadsheet: times in UTC, values in V, ohm or A, empty where a meter was over its range or the circuit has no answer. */
export const readingsCsv = (report: Report): string =>
  writeCsv([
    HEAD,
    ...report.readings.map((r) => {
      const { leads } = r;
      const [red, black, around] = leads.quantity === "amps" ? [undefined, undefined, leads.around] : [leads.red, leads.black, undefined];
      return [
        r.at,
        r.by,
        r.phase,
        leads.quantity,
        red,
        black,
        around,
        r.stateWords,
        r.text,
        r.value ?? undefined,
        r.soundValue ?? undefined,
        UNIT[leads.quantity],
        r.instrument,
        r.meter,
        r.struck ?? undefined,
      ];
    }),
  ]);
