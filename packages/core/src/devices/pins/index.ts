import { z } from "zod";
import { can, canPin } from "./can.ts";
import { ground, groundPin } from "./ground.ts";
import { highSide, highSidePin } from "./high-side.ts";
import { input, inputPin } from "./input.ts";
import { lin, linPin } from "./lin.ts";
import { lowSide, lowSidePin } from "./low-side.ts";
import type { PinKind } from "./pin.ts";
import { reference, referencePin } from "./reference.ts";
import { singleWire, singleWirePin } from "./single-wire.ts";
import { supply, supplyPin } from "./supply.ts";

export const pinSettings = z.discriminatedUnion("sort", [
  supplyPin,
  groundPin,
  inputPin,
  lowSidePin,
  highSidePin,
  referencePin,
  canPin,
  linPin,
  singleWirePin,
]);
export type PinSettings = z.infer<typeof pinSettings>;

/** By sort. The settings of a pin and its kind always belong together, as both are looked up by the same word. */
export const PIN_KINDS = {
  supply,
  ground,
  input,
  low: lowSide,
  high: highSide,
  reference,
  "can high": can,
  "can low": can,
  lin,
  "single wire": singleWire,
} satisfies Record<PinSettings["sort"], unknown>;

/** Sorts that circuit texts have a shorter word for. */
const SHORTER: Readonly<Record<string, string>> = { "can high": "canh", "can low": "canl", "single wire": "wire" };
/** Sort of a pin by its word in circuit texts. */
export const PIN_SORT_BY_WORD: Readonly<Record<string, string>> = Object.fromEntries(
  Object.keys(PIN_KINDS).map((sort) => [SHORTER[sort] ?? sort, sort]),
);

/** The kind behind a pin of a module; every sort has one. */
export const pinKindOf = (p: PinSettings): PinKind<PinSettings> => PIN_KINDS[p.sort] as unknown as PinKind<PinSettings>;
