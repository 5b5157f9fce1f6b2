import { type Component, deviceOf, type Harness, type PinRef } from "../harness/index.ts";
import { printHeader, printMonitors, quote } from "./header.ts";
import { printPins } from "./module-words.ts";
import { kindOfName } from "./part-item.ts";

/**
 * Writes a harness as circuit text; parsing that text gives an equal harness. A wire follows the one before on the same
 * chain when it leaves the part where that one arrived.
 */
export function printNotation(harness: Harness): string {
  const parts = new Map(harness.components.map((c) => [c.id, c]));
  const name = (pin: PinRef, way: "enter" | "leave"): string => pin.component + pinText(parts.get(pin.component)!, pin.pin, way);
  // Naming every part once, first and in order, keeps the order of components.
  const lines = [...printHeader(harness), ...harness.components.map((part) => part.id + wordsOf(part))];
  let sheet: string | undefined;
  for (const w of harness.wires) {
    if (w.sheet !== sheet) lines.push(w.sheet === undefined ? "sheet" : `sheet ${quote(w.sheet)}`);
    sheet = w.sheet;
    const length = w.lengthAssumed === true ? "" : ` ${w.lengthM}m`;
    const via = w.segments === undefined ? "" : ` via=${w.segments.join(",")}`;
    const when = w.when === undefined ? "" : ` if=${w.when}`;
    const wire = [w.id, w.colour, `${w.areaMm2}mm2`].filter(Boolean).join(" ") + length + via + when;
    lines.push(`${name(w.from, "leave")} -- ${wire} -- ${name(w.to, "enter")}`);
  }
  let when: string | undefined;
  for (const j of harness.joints) {
    if (j.when !== when) lines.push(j.when === undefined ? "if" : `if ${j.when}`);
    when = j.when;
    lines.push(`${name(j.from, "leave")} -- ${name(j.to, "enter")}`);
  }
  return [...lines, ...printMonitors(harness)].join("\n") + "\n";
}

function pinText(part: Component, pin: string, way: "enter" | "leave"): string {
  const usual = ((): string | undefined => {
    switch (part.kind) {
      case "splice":
      case "ground":
        return "1";
      case "battery":
        return way === "enter" ? "-" : "+";
      case "connector":
        return undefined;
      case "device": {
        const { device, settings } = deviceOf(part);
        const names = device.terminals(settings).map((t) => t.name);
        return names.length === 2 ? names[way === "enter" ? 0 : 1] : undefined;
      }
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
  const words: string[] = kindOfName(part.id) === part.kind || part.kind === "load" || part.kind === "device" ? [] : [part.kind];
  switch (part.kind) {
    case "battery":
      words.push(`${part.restVolts}V`, `${part.internalOhms}ohm`, `charge ${part.chargeVolts}V`, `crank ${part.crankAmps}A`);
      if (part.charge !== undefined) words.push(`charge=${part.charge}`);
      if (part.wear !== undefined) words.push(`wear=${part.wear}`);
      break;
    case "fuse":
      words.push(`${part.ratingAmps}A`);
      break;
    case "switch":
      words.push(part.closedBy === "accessory" ? "acc" : part.closedBy);
      break;
    case "ground":
      words.push(`on ${part.on}`);
      if (part.tool !== undefined) words.push(`tool=${quote(part.tool)}`);
      break;
    case "load":
      words.push(part.sort);
      if ("amps" in part.rating) words.push(`${part.rating.amps}A`);
      else if ("watts" in part.rating) words.push(`${part.rating.watts}W`);
      else words.push(`${part.rating.ohms}ohm`);
      if (part.pins[0] !== "1" || part.pins[1] !== "2") words.push(`pins ${part.pins[0]} ${part.pins[1]}`);
      break;
    case "device": {
      words.push(part.device);
      const pins = part.device === "module" ? printPins(part.settings) : undefined;
      for (const [key, value] of Object.entries(pins?.rest ?? part.settings))
        words.push(`${key}=${typeof value === "string" && /^[A-Za-z][A-Za-z0-9-]*$/.test(value) ? value : JSON.stringify(value)}`);
      words.push(...placeWords(part));
      if (pins !== undefined) words.push(pins.words.join(", "));
      if (part.label !== undefined) words.push(quote(part.label));
      if (part.at !== undefined) words.push(`at ${quote(part.at)}`);
      return `(${words.join(" ")})`;
    }
    case "connector":
      if (words.length === 0) words.push(part.kind);
      if (part.ways !== undefined) words.push(`ways=${part.ways}`);
      if (part.rows !== undefined) words.push(`rows=${part.rows}`);
      if (part.sealed === true) words.push("sealed");
      if (part.backProbe === false) words.push("noprobe");
      break;
    case "splice":
      if (words.length === 0) words.push(part.kind);
      break;
  }
  words.push(...placeWords(part));
  if (part.label !== undefined) words.push(quote(part.label));
  if (part.at !== undefined) words.push(`at ${quote(part.at)}`);
  return `(${words.join(" ")})`;
}

/** Where a part is; the same words for every kind. */
function placeWords(part: Component): string[] {
  return [
    ...(part.zone === undefined ? [] : [`zone=${part.zone}`]),
    ...(part.when === undefined ? [] : [`if=${part.when}`]),
    ...(part.sheet === undefined ? [] : [`sheet=${quote(part.sheet)}`]),
    ...(part.accessMinutes === undefined ? [] : [`minutes=${part.accessMinutes}`]),
    ...(part.box === undefined ? [] : [`box=${quote(part.box)}`]),
    ...(part.slot === undefined ? [] : [`slot=${quote(part.slot)}`]),
  ];
}
