import { describeLink, describePlace, linkOf, lookupOf, type Harness } from "../../harness/index.ts";
import { lampLook, workWord } from "../../instruments/index.ts";
import type { Observable, Result } from "./evidence.ts";
import type { Predicted } from "./likelihood.ts";

/** "volts from C1.2a to battery negative". */
export function observableWords(harness: Harness, o: Observable): string {
  const place = (p: string): string => describePlace(harness, p as never);
  const thing = (id: string): string => {
    const link = linkOf(harness, id);
    const part = lookupOf(harness).parts.get(id);
    return part !== undefined
      ? `${id}${part.label === undefined ? "" : ` (${part.label})`}`
      : link === undefined
        ? id
        : describeLink(harness, link);
  };
  // Before anything on the wire itself that may have chafed.
  const where = (id: string): string => {
    const wire = lookupOf(harness).wires.get(id);
    return wire === undefined ? "" : `, close to ${wire.from.component}`;
  };
  switch (o.kind) {
    case "volts":
      return `volts, red on ${place(o.red)}, black on ${place(o.black)}`;
    case "ohms":
      return `ohms between ${place(o.red)} and ${place(o.black)}`;
    case "amps":
      return `clamp around ${thing(o.around)}${where(o.around)}`;
    case "lamp":
      return `${o.watts} W lamp between ${place(o.red)} and ${place(o.black)}`;
    case "part":
      return `what ${thing(o.part)} does`;
    case "answers":
      return `whether ${thing(o.module)} answers`;
    case "code":
      return `code ${o.code}`;
    case "live":
      return `what ${thing(o.module)} reads at pin ${o.pin}`;
    case "look":
      return `a look at ${thing(o.at)}`;
    case "swap":
      return `a known-good part in place of ${thing(o.part)}`;
    case "wiggle":
      return `moving ${thing(o.at)}`;
    case "check":
      return `${o.what}, at ${thing(o.at)}`;
  }
}

const UNITS = { volts: "V", live: "V", ohms: "Ω", amps: "A" } as const;

export function resultWords(o: Observable, r: Result): string {
  switch (r.kind) {
    case "word":
      return r.word;
    case "over":
      return "OL";
    case "swings":
      return `${number(o, r.low)} … ${number(o, r.high)}`;
    case "value":
      return number(o, r.value);
  }
}

function number(o: Observable, value: number): string {
  const unit = o.kind in UNITS ? UNITS[o.kind as keyof typeof UNITS] : "";
  if (unit === "Ω") return value === Infinity ? "OL" : ohms(Math.max(0, value));
  const digits = Math.abs(value) < 1 ? 3 : 2;
  return `${(Math.abs(value) < 0.0005 ? 0 : value).toFixed(digits)} ${unit}`;
}

/** What a prediction looks like on the instrument. */
export function predictedWords(o: Observable, p: Predicted): string {
  if (Number.isNaN(p.value)) return "no telling";
  if (p.oscillating === true) return o.kind === "ohms" ? "void: live" : o.kind === "part" ? "flickers" : "swings";
  switch (o.kind) {
    case "volts":
    case "live":
    case "ohms":
    case "amps":
      return number(o, p.value);
    case "lamp":
      return lampLook(p.value);
    case "part":
      return workWord(p.value);
    case "look":
      return p.value > 0.3 ? "damage likely to show" : "nothing";
    case "swap":
      return p.value > 0.5 ? "cured" : "same";
    case "wiggle":
      return p.value > 0.5 ? "moves" : "steady";
    case "answers":
      return p.value > 0.5 ? "yes" : "no";
    case "code":
      return p.value > 0.5 ? "active" : "absent";
    case "check":
      return "no telling";
  }
}

/** With two figures. */
export function ohms(value: number): string {
  const [n, unit] = value >= 1e6 ? [value / 1e6, "MΩ"] : value >= 1000 ? [value / 1000, "kΩ"] : [value, "Ω"];
  return `${Number(n.toPrecision(2))} ${unit}`;
}
