import type { Harness } from "./schema.ts";

/** One term of an option expression: the option, and whether it must be on or off. */
interface Term {
  readonly option: string;
  readonly on: boolean;
}

const termsOf = (when: string | undefined): readonly Term[] =>
  when === undefined ? [] : when.split("&").map((t) => (t.startsWith("!") ? { option: t.slice(1), on: false } : { option: t, on: true }));

/** The options that an expression names. */
export const optionsNamed = (when: string | undefined): readonly string[] => termsOf(when).map((t) => t.option);

/** Whether an item exists on a vehicle with these options. */
export const isFitted = (when: string | undefined, options: ReadonlySet<string>): boolean =>
  termsOf(when).every((t) => options.has(t.option) === t.on);

/** False when no vehicle can have both: one needs an option that the other excludes. */
export function canMeet(p: string | undefined, q: string | undefined): boolean {
  const other = termsOf(q);
  return !termsOf(p).some((a) => other.some((b) => a.option === b.option && a.on !== b.on));
}

/** The wiring with these parts alone: what ends at another one is gone. */
export function withParts(harness: Harness, here: ReadonlySet<string>): Harness {
  const ends = (line: Harness["joints"][number]): boolean => here.has(line.from.component) && here.has(line.to.component);
  return {
    ...harness,
    components: harness.components.filter((c) => here.has(c.id)),
    wires: harness.wires.filter(ends),
    joints: harness.joints.filter(ends),
  };
}

const resolved = new WeakMap<Harness, Map<string, Harness>>();

/**
 * The wiring of one vehicle: what its options leave out is gone, wires to absent parts with it. The same harness and options give
 * the same object.
 */
export function resolveVariant(harness: Harness, options: readonly string[]): Harness {
  const on = new Set(options);
  const key = [...on].sort().join(" ");
  const known = resolved.get(harness) ?? new Map<string, Harness>();
  resolved.set(harness, known);
  const found = known.get(key);
  if (found !== undefined) return found;
  const here = new Set(harness.components.flatMap((c) => (isFitted(c.when, on) ? [c.id] : [])));
  const kept = withParts(harness, here);
  const made: Harness = {
    ...kept,
    wires: kept.wires.filter((w) => isFitted(w.when, on)),
    joints: kept.joints.filter((j) => isFitted(j.when, on)),
    ...(harness.monitors === undefined
      ? {}
      : { monitors: harness.monitors.filter((m) => here.has(m.module) && (m.silent === undefined || here.has(m.silent))) }),
  };
  known.set(key, made);
  return made;
}

/** What an option changes on the vehicle, in a few words: "adds hold blower, fridge unit, 9 more parts"; "only wires" where no part comes or goes. */
export function optionChanges(harness: Harness, id: string): string {
  const byTerm = (on: boolean): Harness["components"] =>
    harness.components.filter((c) => termsOf(c.when).some((t) => t.option === id && t.on === on));
  const said = [["adds", byTerm(true)] as const, ["takes away", byTerm(false)] as const].flatMap(([verb, parts]) => {
    const named = parts.filter((c) => c.label !== undefined && (c.kind === "load" || c.kind === "device"));
    // "house light, left" and "house light, right" are one thing here.
    const first = [...new Set(named.map((c) => c.label!.split(",")[0]!))].slice(0, MOST_NAMED);
    const more = parts.length - first.length;
    if (parts.length === 0) return [];
    const others = more === 0 ? "" : `${more}${first.length === 0 ? "" : " more"} ${more === 1 ? "part" : "parts"}`;
    return [`${verb} ${[first.join(", "), others].filter((w) => w !== "").join(", ")}`];
  });
  return said.length === 0 ? "only wires" : said.join("; ");
}
const MOST_NAMED = 2;

/** Every choice of options that changes the wiring, at most `limit`: none, each alone, all. */
export function variantsOf(harness: Harness, limit = 16): string[][] {
  const ids = (harness.options ?? []).map((o) => o.id);
  const choices = ids.length <= 3 ? powerSet(ids) : [[], ...ids.map((id) => [id]), ids];
  return choices.slice(0, limit);
}

const powerSet = (ids: readonly string[]): string[][] =>
  ids.reduce<string[][]>((sets, id) => [...sets, ...sets.map((set) => [...set, id])], [[]]);
