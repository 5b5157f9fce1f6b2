import { METHOD_WORDS, type EventOf } from "@rheonom/core/job";
import { decimalsOf, estimateSchema, readMoney, type EstimateLine, type RepairPlan } from "@rheonom/core/repair";
import { typedNumber } from "../../job/typed-number.ts";

/** An estimate as its form holds it. */
export interface EstimateForm {
  readonly currency: string;
  readonly tax: string;
  readonly lines: readonly {
    readonly kind: EstimateLine["kind"];
    readonly text: string;
    readonly quantity: string;
    readonly price: string;
  }[];
}

export type EstimateRead =
  | { readonly kind: "ok"; readonly data: EventOf<"estimate-made">["data"] }
  /** `line`: counted from 1; 0 for the head. */
  | { readonly kind: "bad"; readonly line: number; readonly message: string };

/** Reads what was typed. Lines without words are passed over. */
export function readEstimate(form: EstimateForm): EstimateRead {
  const currency = form.currency.trim().toUpperCase();
  const decimals = decimalsOf(currency);
  if (decimals === undefined)
    return { kind: "bad", line: 0, message: `“${form.currency.slice(0, 8)}” is not a currency. Type its three letters, such as EUR.` };
  const tax = typedNumber(form.tax) ?? 0;
  if (!(tax >= 0 && tax <= 100)) return { kind: "bad", line: 0, message: "Tax is a number of percent from 0 to 100." };
  const lines: EstimateLine[] = [];
  for (const [i, l] of form.lines.entries()) {
    if (l.text.trim() === "") continue;
    const quantity = typedNumber(l.quantity) ?? 1;
    const unitPrice = readMoney(l.price === "" ? "0" : l.price, currency);
    if (!(quantity >= 0 && quantity <= 1e6))
      return { kind: "bad", line: i + 1, message: `Line ${i + 1}: a quantity is a number, such as 1.5.` };
    if (unitPrice === undefined)
      return {
        kind: "bad",
        line: i + 1,
        message: `Line ${i + 1}: “${l.price.slice(0, 20)}” is not an amount in ${currency}. Type ${decimals === 0 ? "whole numbers, such as 1200" : `up to ${decimals} decimals, such as 12.50`}.`,
      };
    lines.push({ kind: l.kind, text: l.text.trim(), quantity, unitPrice });
  }
  const read = estimateSchema.safeParse({ currency, taxPercent: tax, lines });
  return read.success
    ? { kind: "ok", data: read.data }
    : { kind: "bad", line: 0, message: read.error.issues[0]?.message ?? "The estimate cannot be read." };
}

const hours = (minutes: number): string => (Math.max(1, Math.round(minutes / 6)) / 10).toFixed(1);

/** Lines that follow from the plan of a repair: labour by access and method, the part, wire and joints. `rate`: of an hour, as typed last. */
export function linesFor(
  at: string,
  method: EventOf<"mend-made">["data"]["method"],
  plan: RepairPlan | undefined,
  rate: string,
): EstimateForm["lines"] {
  const minutes =
    plan?.wire === undefined ? REPAIR_MINUTES : method === "wire overlaid" ? plan.wire.ways.overlay.minutes : plan.wire.ways.find.minutes;
  const wire = plan?.wire;
  return [
    { kind: "labour", text: "Trace the fault", quantity: "0.5", price: rate },
    { kind: "labour", text: `${at === "" ? "Repair" : `Repair at ${at}`}, ${METHOD_WORDS[method]}`, quantity: hours(minutes), price: rate },
    ...(method === "part renewed" ? [{ kind: "part" as const, text: at, quantity: "1", price: "" }] : []),
    ...(wire === undefined
      ? []
      : [{ kind: "material" as const, text: `Wire ${wire.areaMm2} mm², joints, seal and tape`, quantity: "1", price: "" }]),
    { kind: "labour", text: "Repeat the test, test drive", quantity: "0.3", price: rate },
  ];
}
/** Minutes of a repair that no data tells of. */
const REPAIR_MINUTES = 20;
