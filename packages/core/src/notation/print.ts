import type { Component, Harness, PinRef } from "../harness/index.ts";
import { kindOfName } from "./part-item.ts";

/**
 * Writes a harness as circuit text; parsing that text gives an equal harness. A wire follows the one before on the same
 * chain when it leaves the part where that one arrived.
 */
export function printNotation(harness: Harness): string {
  const declared = new Set<string>();
  const name = (pin: PinRef, way: "enter" | "leave" | "through"): string => {
    const part = harness.components.find((c) => c.id === pin.component)!;
    const words = declared.has(part.id) ? "" : wordsOf(part);
    declared.add(part.id);
    return part.id + pinText(part, pin.pin, way) + words;
  };
  const lines = [`circuit "${harness.name}"`, `nominal ${harness.nominalVolts}V`];
  // Naming every part once, first and in order, keeps the order of components.
  for (const part of harness.components) {
    const words = wordsOf(part);
    if (words !== "") lines.push(part.id + words);
    declared.add(part.id);
  }
  for (const w of harness.wires) {
    const length = w.lengthAssumed === true ? "" : ` ${w.lengthM}m`;
    const wire = [w.id, w.colour, `${w.areaMm2}mm2`].filter(Boolean).join(" ") + length;
    lines.push(`${name(w.from, "leave")} -- ${wire} -- ${name(w.to, "enter")}`);
  }
  for (const j of harness.joints) lines.push(`${name(j.from, "leave")} -- ${name(j.to, "enter")}`);
  return lines.join("\n") + "\n";
}

function pinText(part: Component, pin: string, way: "enter" | "leave" | "through"): string {
  const usual = ((): string | undefined => {
    switch (part.kind) {
      case "splice":
      case "ground":
        return "1";
      case "battery":
        return way === "enter" ? "-" : "+";
      case "connector":
        return undefined;
      case "fuse":
      case "switch":
        return way === "enter" ? "1" : "2";
      case "load":
        return way === "enter" ? part.pins[0] : part.pins[1];
    }
  })();
  return pin === usual ? "" : `.${pin}`;
}

/** The parentheses of a part, with whatever its name does not tell. Always written, so that order of parts is kept. */
function wordsOf(part: Component): string {
  const words: string[] = kindOfName(part.id) === part.kind || part.kind === "load" ? [] : [part.kind];
  switch (part.kind) {
    case "battery":
      words.push(`${part.restVolts}V`, `${part.internalOhms}ohm`, `charge ${part.chargeVolts}V`, `crank ${part.crankAmps}A`);
      break;
    case "fuse":
      words.push(`${part.ratingAmps}A`);
      break;
    case "switch":
      words.push(part.closedBy === "accessory" ? "acc" : part.closedBy);
      break;
    case "ground":
      words.push(`on ${part.on}`);
      break;
    case "load":
      words.push(part.sort);
      if ("amps" in part.rating) words.push(`${part.rating.amps}A`);
      else if ("watts" in part.rating) words.push(`${part.rating.watts}W`);
      else words.push(`${part.rating.ohms}ohm`);
      if (part.pins[0] !== "1" || part.pins[1] !== "2") words.push(`pins ${part.pins[0]} ${part.pins[1]}`);
      break;
    case "connector":
    case "splice":
      if (words.length === 0) words.push(part.kind);
      break;
  }
  if (part.label !== undefined) words.push(`"${part.label}"`);
  if (part.at !== undefined) words.push(`at "${part.at}"`);
  return `(${words.join(" ")})`;
}
