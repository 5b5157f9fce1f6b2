import { linkOf, lookupOf, partOfLink, partOfPlace, type Exposure, type Harness } from "../../harness/index.ts";
import type { Circumstance } from "../evidence/evidence.ts";

/** Where faults come from: how much likelier one is where a thing is exposed, and how much more when the complaint comes under that very condition. Estimates. */
const EXPOSED = 1.6;
const UNDER_CONDITION = 5;
const WORKED_ON = 6;
/** A new part that did not cure the complaint is most likely not what is wrong. */
const REPLACED = 0.05;

const TELLS: Readonly<Record<Extract<Circumstance, { kind: "condition" }>["what"], readonly Exposure[]>> = {
  vibration: ["vibration", "rub"],
  rain: ["water"],
  heat: ["heat"],
  cold: ["water"],
  flexing: ["flex", "rub"],
  standing: ["water"],
  steering: ["flex", "rub"],
  "engine rocks": ["flex", "vibration"],
  consumers: [],
};
/** With consumers on, what they share is likelier: grounds, the battery and what feeds many. */
const SHARED_BY_CONSUMERS = 4;

/** What a wire or part is exposed to, by its zone and the looms it runs through. */
export function exposureOf(harness: Harness, id: string): ReadonlySet<Exposure> {
  const found = new Set<Exposure>();
  for (const where of placesNamed(harness, id)) {
    for (const e of harness.zones?.find((z) => z.id === where)?.exposure ?? []) found.add(e);
    for (const e of harness.looms?.find((l) => l.id === where)?.exposure ?? []) found.add(e);
  }
  return found;
}

/** A wire or part by its own name, and by the looms, zones and connector that it belongs to. */
function placesNamed(harness: Harness, id: string): readonly string[] {
  const wire = lookupOf(harness).wires.get(id);
  if (wire !== undefined) return [id, ...(wire.segments ?? [])];
  const link = linkOf(harness, id);
  const part =
    lookupOf(harness).parts.get(id) ?? (link === undefined ? undefined : (partOfLink(harness, link) ?? partOfPlace(harness, link.a)));
  return part === undefined ? [id] : [id, part.id, ...(part.zone === undefined ? [] : [part.zone])];
}

/** A ground, a post of the battery, or a cable of 6 mm² and more. */
function isShared(harness: Harness, id: string): boolean {
  const { parts, wires } = lookupOf(harness);
  const kind = parts.get(id)?.kind;
  return kind === "ground" || kind === "battery" || (wires.get(id)?.areaMm2 ?? 0) >= TRUNK_MM2;
}
const TRUNK_MM2 = 6;

/** A circumstance that makes faults of a link likelier or less likely, and by how much. */
export interface Raise {
  readonly circumstance: Circumstance;
  readonly factor: number;
}

/** Cases beyond so many make nothing likelier still. */
const MOST_CASES = 20;

/** What the circumstances say of a link. */
export function raisesOf(harness: Harness, circumstances: readonly Circumstance[], id: string): readonly Raise[] {
  const exposed = exposureOf(harness, id);
  const named = placesNamed(harness, id);
  return circumstances.flatMap((circumstance): Raise[] => {
    const factor = factorBy(harness, circumstance, id, exposed, named);
    return factor === 1 ? [] : [{ circumstance, factor }];
  });
}

function factorBy(harness: Harness, c: Circumstance, id: string, exposed: ReadonlySet<Exposure>, named: readonly string[]): number {
  switch (c.kind) {
    case "condition":
      if (TELLS[c.what].some((e) => exposed.has(e))) return UNDER_CONDITION;
      return c.what === "consumers" && isShared(harness, id) ? SHARED_BY_CONSUMERS : 1;
    case "worked on":
      return named.includes(c.at) ? WORKED_ON : 1;
    case "replaced":
      return (id === c.part || id.startsWith(`${c.part}.`)) && lookupOf(harness).parts.get(c.part)?.kind !== "connector" ? REPLACED : 1;
    case "similar":
      return named.includes(c.at) ? 1 + Math.min(MOST_CASES, c.cases) : 1;
  }
}

/** Factor on the prior of a link, from where it lies and what is known of the vehicle. */
export function factorOf(harness: Harness, circumstances: readonly Circumstance[]): (link: string) => number {
  const known = new Map<string, number>();
  return (id) => {
    const made = known.get(id);
    if (made !== undefined) return made;
    const lies = exposureOf(harness, id).size > 0 ? EXPOSED : 1;
    const factor = raisesOf(harness, circumstances, id).reduce((product, r) => product * r.factor, lies);
    known.set(id, factor);
    return factor;
  };
}
