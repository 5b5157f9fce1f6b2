import { isAnother, type Leads, type Steadiness } from "@rheonom/core/instruments";

type Quantity = Leads["quantity"];

/** What a meter stood at when its leads were to go elsewhere, and whether it has left that since. */
export interface Waiting {
  readonly before: number | undefined;
  readonly hasLeft: boolean;
}

/** Leads are to be put somewhere; `before`: what the meter stands at meanwhile. */
export const waitingFrom = (before: number | undefined): Waiting => ({ before, hasLeft: false });

/** One reading on. */
export function withSample(w: Waiting, value: number, quantity: Quantity): Waiting {
  if (w.before === undefined) return { before: value, hasLeft: false };
  return w.hasLeft || !isAnother(value, w.before, quantity) ? w : { ...w, hasLeft: true };
}

/** Below this a meter shows what leads show that hang in the air, V and A; on ohms that is OL. */
const HANGS = { volts: 0.1, amps: 0.1, ohms: Infinity } as const;

/** A steady value that may be taken by itself: the meter has moved since the leads were to go there, and it is nothing that hanging leads would show. */
export function mayTake(w: Waiting, s: Steadiness, quantity: Quantity): boolean {
  if (s.kind !== "steady" || !w.hasLeft) return false;
  return quantity === "ohms" ? s.value < HANGS.ohms : Math.abs(s.value) >= HANGS[quantity];
}
