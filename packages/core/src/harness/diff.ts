import type { Component, Harness, Wire } from "./schema.ts";

/** One difference between two circuits, in words and by item. */
export interface Difference {
  readonly kind: "added" | "removed" | "changed";
  readonly what: "vehicle" | "part" | "wire" | "joint" | "option" | "zone" | "loom" | "code";
  readonly id: string;
  /** What changed: the value's name, before and after; empty for what was added or removed. */
  readonly changes: readonly { readonly name: string; readonly before: string; readonly after: string }[];
  readonly words: string;
}

type Item = Readonly<Record<string, unknown>>;

/** What `after` has differently from `before`, in the order of the lists. */
export function diffHarness(before: Harness, after: Harness): Difference[] {
  const head = (h: Harness): Item => ({ id: "circuit", name: h.name, nominalVolts: h.nominalVolts, ...h.vehicle });
  return [
    ...diffLists("vehicle", [head(before)], [head(after)], (x) => String(x.id)),
    ...diffLists("option", before.options ?? [], after.options ?? [], (x) => String(x.id)),
    ...diffLists("zone", before.zones ?? [], after.zones ?? [], (x) => String(x.id)),
    ...diffLists("loom", before.looms ?? [], after.looms ?? [], (x) => String(x.id)),
    ...diffLists("part", before.components, after.components, (x) => String(x.id)),
    ...diffLists("wire", before.wires.map(flatWire), after.wires.map(flatWire), (x) => String(x.id)),
    ...diffLists("joint", before.joints.map(flatJoint), after.joints.map(flatJoint), (x) => String(x.id)),
    ...diffLists("code", before.monitors ?? [], after.monitors ?? [], (x) => `${String(x.code)} ${String(x.module)}.${String(x.pin)}`),
  ];
}

const end = (e: Wire["from"]): string => `${e.component}.${e.pin}`;
const flatWire = (w: Wire): Item => ({ ...w, from: end(w.from), to: end(w.to) });
const flatJoint = (j: Harness["joints"][number]): Item => ({ id: `${end(j.from)} -- ${end(j.to)}`, when: j.when });

/** Every value of an item by its path, as words: the order in which they were written does not count. */
function valuesOf(item: unknown, path = "", into = new Map<string, string>()): Map<string, string> {
  if (typeof item === "object" && item !== null && !isPlainList(item)) {
    for (const [name, value] of Object.entries(item)) valuesOf(value, path === "" ? name : `${path}.${name}`, into);
  } else if (item !== undefined) into.set(path, Array.isArray(item) ? item.join(", ") : String(item));
  return into;
}

const isPlainList = (x: object): boolean => Array.isArray(x) && x.every((v) => typeof v !== "object");

function diffLists(what: Difference["what"], before: readonly Item[], after: readonly Item[], key: (item: Item) => string): Difference[] {
  const old = new Map(before.map((x) => [key(x), x]));
  const now = new Map(after.map((x) => [key(x), x]));
  const found: Difference[] = [];
  for (const [id, x] of now) {
    const was = old.get(id);
    if (was === undefined) {
      found.push({ kind: "added", what, id, changes: [], words: `${what} ${id} is new${tail(x)}` });
      continue;
    }
    const [p, q] = [valuesOf(was), valuesOf(x)];
    const names = [...new Set([...p.keys(), ...q.keys()])].filter((n) => p.get(n) !== q.get(n));
    const changes = names.map((name) => ({ name, before: p.get(name) ?? "nothing", after: q.get(name) ?? "nothing" }));
    if (changes.length > 0)
      found.push({
        kind: "changed",
        what,
        id,
        changes,
        words: `${what} ${id}: ${changes.map((c) => `${c.name} ${c.before} → ${c.after}`).join(", ")}`,
      });
  }
  for (const [id, x] of old)
    if (!now.has(id)) found.push({ kind: "removed", what, id, changes: [], words: `${what} ${id} is gone${tail(x)}` });
  return found;
}

function tail(x: Item): string {
  const words = [(x as unknown as Component).label, x.colour, x.from === undefined ? undefined : `${String(x.from)} to ${String(x.to)}`];
  const said = words.filter(Boolean).join(" ");
  return said === "" ? "" : ` (${said})`;
}
