import { openedWord, type VehicleState } from "@rheonom/core/circuit";
import { linkOf, lookupOf, partOfLink, sliceOf, type Harness } from "@rheonom/core/harness";
import type { Prediction } from "@rheonom/core/instruments";
import type { EventOf, TrayItem } from "@rheonom/core/job";

type Temporary = EventOf<"temporary-made">["data"];

/** Parts whose doing can be seen or heard: the one in question first, then what shares its way. */
export function lookableParts(harness: Harness, load: string): readonly string[] {
  const link = linkOf(harness, load);
  const own = (link === undefined ? undefined : partOfLink(harness, link)?.id) ?? load;
  const near = sliceOf(harness, [own]).harness.components.filter((c) => c.kind === "load" || c.kind === "device");
  return [...new Set([own, ...near.map((c) => c.id)])].filter((id) => lookupOf(harness).parts.has(id));
}

/** Current below which a part does nothing to be seen, A. */
const SEEN_AMPS = 1e-3;

/** Whether a part takes current in a sound circuit; undefined when nobody knows. */
export function runsSound(sound: Prediction | undefined, part: string): boolean | undefined {
  if (sound === undefined) return undefined;
  const own = [...sound.amps].filter(([id]) => id === part || id.startsWith(`${part}.`));
  return own.length === 0 ? undefined : own.some(([, amps]) => Math.abs(amps) > SEEN_AMPS);
}

/** What has to be done to the vehicle, beside key and switches, to bring it from one state into another. */
export function temporaryFor(harness: Harness, from: VehicleState, to: VehicleState): readonly Temporary[] {
  const has = (list: readonly (readonly [string, string, ...unknown[]])[], p: string, q: string): boolean =>
    list.some(([x, y]) => x === p && y === q);
  return [
    ...to.opened
      .filter((id) => !from.opened.includes(id))
      .map((id): Temporary => ({ kind: openedWord(harness, id) === "pulled" ? "pulled" : "unplugged", at: id, to: "", note: "" })),
    ...to.bridged
      .filter(([p, q]) => !has(from.bridged, p, q))
      .map(([p, q]): Temporary => ({ kind: "jumpered", at: p, to: q, note: "with a fused lead" })),
    ...(to.lamps ?? [])
      .filter(([p, q]) => !has(from.lamps ?? [], p, q))
      .map(([p, q, watts]): Temporary => ({ kind: "lamp fitted", at: p, to: q, note: `${watts} W` })),
  ];
}

/** Whether something that was changed stays as it is in a state that is asked for. */
export function stays(item: TrayItem, wanted: VehicleState): boolean {
  switch (item.kind) {
    case "unplugged":
    case "pulled":
      return wanted.opened.includes(item.place);
    case "jumpered":
      return wanted.bridged.some(([p, q]) => p === item.place && q === item.to);
    case "lamp fitted":
      return (wanted.lamps ?? []).some(([p, q]) => p === item.place && q === item.to);
    default:
      return true;
  }
}
