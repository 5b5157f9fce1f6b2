import { accessMinutes, type Harness, leadFuseAmps, lookupOf, partNameIn } from "../../harness/index.ts";
import { lamp } from "../evidence/kinds/lamp.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { needsPiercing, placesTouched } from "./cost.ts";
import type { Test } from "../predict/oracle.ts";

/** How to get at everything that a test touches: "G12: tailgate frame, 6 min". Nothing for what is seen from the seat. */
export function accessOf(harness: Harness, { observe, state }: Test): readonly string[] {
  const places = [...placesTouched(observe), ...state.opened, ...state.bridged.flat(), ...(state.lamps ?? []).flatMap(([p, q]) => [p, q])];
  const parts = [...new Set(places.map((p) => partNameIn(p)))].flatMap((id) => lookupOf(harness).parts.get(id) ?? []);
  const found = parts.flatMap((part) => {
    const minutes = accessMinutes(harness, part);
    const where = [part.at, harness.zones?.find((z) => z.id === part.zone)?.text].filter(Boolean).join(", ");
    return where === "" && minutes === undefined
      ? []
      : [`${part.id}: ${[where, minutes === undefined ? "" : `${minutes} min`].filter(Boolean).join(", ")}`];
  });
  const pierced = places.filter((p) => needsPiercing(harness, p));
  return pierced.length === 0 ? found : [...found, `${pierced.join(", ")}: through the insulation or under the tape; seal it afterwards`];
}

/** What may go wrong in a test for people or the vehicle, and what to do; the maker's procedure and local rules stand above it. */
export function cautionsOf(harness: Harness, { observe, state }: Test): readonly string[] {
  const found: string[] = [];
  if (state.engine === "cranking") found.push("The engine will turn: neutral, brake on, nobody under it or near belts; agree on a signal.");
  if (state.engine === "idling" || state.engine === "at speed")
    found.push("The engine runs: leads clear of belts, fan and exhaust; use exhaust extraction.");
  if (state.opened.length > 0) found.push("Key off before unplugging; airbag connectors stay plugged.");
  for (const [p, q] of state.bridged)
    found.push(
      `The lead from ${p} to ${q} has a ${leadFuseAmps(harness, p, q)} A fuse, no larger than the circuit’s; the part may start at once.`,
    );
  if ((state.lamps ?? []).length > 0 && observe.kind !== "lamp") found.push(lamp.caution!);
  const { caution } = kindOf(observe);
  if (caution !== undefined) found.push(caution);
  return found;
}
