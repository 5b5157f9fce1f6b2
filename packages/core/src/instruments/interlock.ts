import { deviceOf, type Harness, lookupOf } from "../harness/index.ts";

/** Whether a place is a terminal that no instrument may touch: an igniter's. */
export function isUntouchable(harness: Harness, place: string): boolean {
  const dot = place.indexOf(".");
  const part = dot < 0 ? undefined : lookupOf(harness).parts.get(place.slice(0, dot));
  if (part?.kind !== "device") return false;
  const { device, settings } = deviceOf(part);
  return device.terminals(settings).some((t) => t.name === place.slice(dot + 1) && t.role === "untouchable");
}
