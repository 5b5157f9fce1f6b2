import { type Component, type Harness, type Wire, WIRE_COLOURS } from "./schema.ts";

/** A change to a harness as data: offered as the mending of a problem, or asked for by a note from the vehicle. */
export type HarnessEdit =
  | { readonly kind: "remove"; readonly id: string }
  /** Values of a component or wire; undefined takes one out. */
  | { readonly kind: "set"; readonly id: string; readonly values: Readonly<Record<string, unknown>> }
  | { readonly kind: "add-zone"; readonly id: string }
  | { readonly kind: "add-option"; readonly id: string }
  /** Joins a piece of metal to battery negative: a ground on it and a cable. */
  | { readonly kind: "add-strap"; readonly on: string; readonly ground: string; readonly battery: string };

/** A harness with a change made; the given one stays as it is. Throws RangeError when there is nothing of that id. */
export function applyEdit(harness: Harness, edit: HarnessEdit): Harness {
  switch (edit.kind) {
    case "remove": {
      known(harness, edit.id);
      return {
        ...harness,
        components: harness.components.filter((c) => c.id !== edit.id),
        wires: harness.wires.filter((w) => w.id !== edit.id && w.from.component !== edit.id && w.to.component !== edit.id),
        joints: harness.joints.filter((j) => j.from.component !== edit.id && j.to.component !== edit.id),
      };
    }
    case "set": {
      known(harness, edit.id);
      const change = <T extends Component | Wire>(item: T): T => {
        if (item.id !== edit.id) return item;
        const kept = Object.entries({ ...item, ...edit.values }).filter(([, value]) => value !== undefined);
        return Object.fromEntries(kept) as T;
      };
      return { ...harness, components: harness.components.map(change), wires: harness.wires.map(change) };
    }
    case "add-zone":
      return { ...harness, zones: [...(harness.zones ?? []), { id: edit.id, text: edit.id, minutes: 5, exposure: [] }] };
    case "add-option":
      return { ...harness, options: [...(harness.options ?? []), { id: edit.id, text: edit.id }] };
    case "add-strap": {
      const id = freeId(harness, "W");
      return {
        ...harness,
        components: [...harness.components, { id: edit.ground, kind: "ground", on: edit.on }],
        wires: [
          ...harness.wires,
          {
            id,
            from: { component: edit.ground, pin: "1" },
            to: { component: edit.battery, pin: "-" },
            colour: "BK",
            areaMm2: 25,
            lengthM: 0.5,
          },
        ],
      };
    }
  }
}

function known(harness: Harness, id: string): void {
  if (!harness.components.some((c) => c.id === id) && !harness.wires.some((w) => w.id === id))
    throw new RangeError(`no component or wire ${id}`);
}

/** The first free name of a letter and a number. */
export function freeId(harness: Harness, letter: string): string {
  const taken = new Set([...harness.components, ...harness.wires].map((x) => x.id.toLowerCase()));
  for (let n = 1; ; n++) if (!taken.has(`${letter}${n}`.toLowerCase())) return `${letter}${n}`;
}

/** The change to the wiring that a note of something found different asks for; undefined when it takes a hand to make it. */
export function editOfFinding(harness: Harness, at: string, what: string, found: string): HarnessEdit | undefined {
  const wire = harness.wires.find((w) => w.id === at);
  const part = harness.components.find((c) => c.id === at);
  const text = found.trim();
  switch (what) {
    case "colour": {
      const colour = text.toUpperCase().replace("-", "/");
      return wire !== undefined && /^[A-Z]{2}(\/[A-Z]{2})?$/.test(colour) && colour.split("/").every((c) => c in WIRE_COLOURS)
        ? { kind: "set", id: at, values: { colour } }
        : undefined;
    }
    case "cavity": {
      // "C12.5": the wire sits in another cavity of a connector that one of its ends is in.
      const shape = /^([A-Za-z]\w*)\.(\d{1,3})[ab]?$/.exec(text);
      if (wire === undefined || shape === null) return undefined;
      const end = (["from", "to"] as const).find((e) => wire[e].component.toLowerCase() === shape[1]!.toLowerCase());
      if (end === undefined) return undefined;
      return { kind: "set", id: at, values: { [end]: { ...wire[end], pin: shape[2]! + wire[end].pin.slice(-1) } } };
    }
    case "place":
      return part === undefined ? undefined : { kind: "set", id: at, values: { at: text.slice(0, 80) } };
    case "rating": {
      const ampsFound = Number(/^(\d+(?:[.,]\d+)?)\s*A?$/i.exec(text)?.[1]?.replace(",", "."));
      return part?.kind === "fuse" && ampsFound > 0 ? { kind: "set", id: at, values: { ratingAmps: ampsFound } } : undefined;
    }
    default:
      return undefined;
  }
}
