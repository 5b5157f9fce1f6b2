import type { Link } from "./graph.ts";
import { lookupOf } from "./lookup.ts";
import { cavityIn, partNameIn } from "./names.ts";
import { placeOf, wiresAt } from "./places.ts";
import type { Component, Harness } from "./schema.ts";

function componentOfPlace(harness: Harness, at: string): Component | undefined {
  return lookupOf(harness).parts.get(partNameIn(at));
}

/** A place in trade words: "C12 cavity 4, side a (W2 RD/YE)", "ground G5", "bare metal of the body". */
export function describePlace(harness: Harness, at: string): string {
  const part = componentOfPlace(harness, at);
  if (part === undefined) return `bare metal of the ${at}`;
  const pin = at.slice(part.id.length + 1);
  const named = part.label === undefined ? part.id : `${part.id} ${part.label}`;
  switch (part.kind) {
    case "battery":
      return pin === "+" ? "battery positive post" : "battery negative post";
    case "ground":
      return `ground ${named}`;
    case "splice":
      return `splice ${named}`;
    case "fuse":
      return `fuse ${named}, blade ${pin}`;
    case "switch":
    case "load":
      return `${named}, pin ${pin}`;
    case "device":
      return `${named}, terminal ${pin}`;
    case "connector": {
      const wires = wiresAt(harness, at).map((w) => [w.id, w.colour].filter(Boolean).join(" "));
      const side = wires.length > 0 ? ` (${wires.join(", ")})` : "";
      return `${named} cavity ${cavityIn(pin)}, side ${pin.slice(-1)}${side}`;
    }
  }
}

/** What current passes through, in trade words: "wire W2 RD/YE", "fuse F3 60 A", "C12 cavity 4". */
export function describeLink(harness: Harness, link: Link): string {
  if (link.kind === "wire") {
    const wire = lookupOf(harness).wires.get(link.id)!;
    const from = placeOf(harness, wire.from);
    const to = placeOf(harness, wire.to);
    return `wire ${wire.id}${wire.colour === undefined ? "" : ` ${wire.colour}`} from ${from} to ${to}, its terminals included`;
  }
  if (link.kind === "joint") return `the joint of ${link.a} and ${link.b}`;
  const id = link.kind === "cavity" || link.kind === "device" ? partNameIn(link.id) : link.id;
  const part = lookupOf(harness).parts.get(id)!;
  const label = part.label === undefined ? "" : ` (${part.label})`;
  switch (link.kind) {
    case "cavity":
      return `connector ${id} cavity ${link.id.slice(id.length + 1)}${label}`;
    case "device":
      return `${link.id.slice(id.length + 1)} of ${id}${label}`;
    case "fuse":
      return `fuse ${id}${label} and its holder`;
    case "switch":
      return `switch ${id}${label}`;
    case "ground":
      return `ground ${id}${label}`;
    case "load":
      return `${id}${label}`;
  }
}
