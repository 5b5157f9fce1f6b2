import { z } from "zod";
import { stateKey, vehicleState, type VehicleState } from "../circuit/index.ts";
import { leadsSchema as leads, type Leads } from "../instruments/index.ts";
import { medianOf, spreadOf } from "../quantity/index.ts";
import { moment, uuid7 } from "./events.ts";
import type { JobView } from "./fold.ts";
import { pictureHash } from "./picture-events.ts";

const words = (most: number): z.ZodString => z.string().trim().max(most);
const number = z.number().min(-1e12).max(1e12);

/** A recording on the shelf: one channel of a kept trace, by its samples' hash. */
const goodTrace = z.strictObject({
  hash: pictureHash,
  bytes: z.number().int().min(1).max(1e9),
  channel: z.number().int().min(0).max(7),
  name: words(120),
  unit: words(12),
  factor: z.number().positive().max(1e6),
  rateHz: z.number().positive().max(1e12),
  count: z.number().int().min(2).max(1e9),
});

/** What a good vehicle showed at one place in one state. Says nothing of whose vehicle it was. */
export const knownGood = z.strictObject({
  id: uuid7,
  at: moment,
  by: words(80).min(1),
  /** Short name of the family whose wiring it is, as the shop keeps it: "plover". */
  vehicle: z.string().regex(/^[a-z0-9-]{1,48}$/, "is a short name: small letters, digits and hyphens"),
  options: z.array(z.string().max(24)).max(60),
  leads,
  state: vehicleState,
  /** The meter or scope that it was measured with; "typed" where nobody knows. */
  instrument: words(80).min(1),
  /** V, Ω or A of a reading. */
  value: number.optional(),
  trace: goodTrace.optional(),
  note: words(300),
  /** The shop that it came from; empty for this one. */
  from: words(80),
  /** The job that it was put there from; null where it came from another shop. */
  jobId: uuid7.nullable(),
  /** Why it is good no more; null while it is. */
  withdrawn: z.strictObject({ at: moment, by: words(80).min(1), why: words(300).min(1) }).nullable(),
});
export type KnownGood = z.infer<typeof knownGood>;

/** One of a reading and a recording, not both. */
export const knownGoodItem = knownGood.refine((g) => (g.value === undefined) !== (g.trace === undefined), {
  message: "is a reading or a recording: one of value and trace",
  path: ["value"],
});

export const MOST_ON_SHELF = 5000;
/** The list in a shelf's file, beside which its recordings lie. */
export const shelfFile = z.strictObject({
  format: z.literal("rheonom-known-goods"),
  version: z.literal(1),
  madeAt: moment,
  /** The shop that made it. */
  shop: words(80),
  items: z.array(knownGoodItem).max(MOST_ON_SHELF),
});
export type ShelfFile = z.infer<typeof shelfFile>;

/** Whose vehicles' known-goods those of a job are: the shop's vehicle whose wiring it has, else whatever has its name; undefined while nobody has said what it is. */
export function familyOf({
  circuit,
  complaint,
}: Pick<JobView, "circuit" | "complaint">): { readonly vehicle: string; readonly options: readonly string[] } | undefined {
  if (circuit === undefined) return undefined;
  if (circuit.vehicle !== undefined) return { vehicle: circuit.vehicle.id, options: circuit.vehicle.options };
  const name = complaint.vehicle
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 48);
  return name === "" ? undefined : { vehicle: name, options: NO_OPTIONS };
}
const NO_OPTIONS: readonly string[] = [];

/** Key of where something was measured, for finding what was measured there too: the meter's input is no part of it. */
export const leadsKey = (l: Leads): string => (l.quantity === "amps" ? `amps ${l.around}` : `${l.quantity} ${l.red} ${l.black}`);

/** Degrees by which two states may differ and still be like each other. */
const LIKE_C = 15;

export interface Shelf {
  /** Readings of a vehicle like this one, at this place, in this state. */
  readonly like: readonly KnownGood[];
  /** Recordings likewise. */
  readonly traces: readonly KnownGood[];
  /** Of this place, but of other options or another state; `why`: which of both. */
  readonly other: readonly { readonly item: KnownGood; readonly why: string }[];
  /** Of the readings that are like it; undefined where there are none. */
  readonly band: Band | undefined;
}

/** What several good ones come to, in their unit. */
export interface Band {
  readonly count: number;
  readonly median: number;
  /** Lowest and highest that fits: three times the spread about the median, and never less than what meters differ by, or the good ones cover. */
  readonly low: number;
  readonly high: number;
}

const SPREADS = 3;
/** A band is never narrower than this about its median, in V, Ω, A and as a share: meters, leads and batteries differ. */
const LEAST = { volts: 0.02, ohms: 0.3, amps: 0.5 } as const;
const LEAST_SHARE = 0.02;
/** With fewer than this the band is twice as wide: they say little of how far good ones differ. */
const FEW = 3;

/** What of the shelf is of the same place as a reading or a recording, and how like it is. What was withdrawn is left out. */
export function onShelf(
  items: readonly KnownGood[],
  of: { readonly options: readonly string[]; readonly leads: Leads; readonly state: VehicleState },
): Shelf {
  const key = leadsKey(of.leads);
  const options = optionKey(of.options);
  const same = items.filter((i) => i.withdrawn === null && leadsKey(i.leads) === key);
  const other: { item: KnownGood; why: string }[] = [];
  const like = same.filter((item) => {
    const why = [
      ...(optionKey(item.options) === options ? [] : ["other options"]),
      ...(stateKey(item.state) === stateKey(of.state) ? [] : ["another state"]),
      ...(Math.abs(item.state.temperatureC - of.state.temperatureC) <= LIKE_C ? [] : [`at ${Math.round(item.state.temperatureC)} °C`]),
    ].join(", ");
    if (why !== "") other.push({ item, why });
    return why === "";
  });
  const values = like.flatMap((i) => (i.value === undefined ? [] : [i.value]));
  return {
    like: like.filter((i) => i.value !== undefined),
    traces: like.filter((i) => i.trace !== undefined),
    other,
    band: bandOf(values, of.leads.quantity),
  };
}

const optionKey = (options: readonly string[]): string => [...options].sort().join(" ");

/** What several good readings come to; undefined for none. */
export function bandOf(values: readonly number[], quantity: Leads["quantity"]): Band | undefined {
  if (values.length === 0) return undefined;
  const median = medianOf(values);
  const least = (LEAST[quantity] + LEAST_SHARE * Math.abs(median)) * (values.length < FEW ? 2 : 1);
  const wide = Math.max(SPREADS * spreadOf(values), least);
  return { count: values.length, median, low: Math.min(median - wide, ...values), high: Math.max(median + wide, ...values) };
}

/** Whether a value lies within what good ones come to. */
export const fitsBand = ({ low, high }: Band, value: number): boolean => value >= low && value <= high;
