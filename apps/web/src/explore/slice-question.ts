import { deviceOf, findInHarness, focusOfCode, sliceOf, type Component, type Found, type Harness, type Slice } from "@rheonom/core/harness";

/** What is asked of a vehicle's circuit, as the address says it. */
export interface SliceQuestion {
  /** Parts, wires or codes in question. */
  readonly focus: readonly string[];
  /** What is looked at in the drawing. */
  readonly selected: string | undefined;
  /** What shares fuse, ground or module is drawn too. */
  readonly sharers: boolean;
  /** What this vehicle does not have is drawn as well. */
  readonly ghosted: boolean;
}

/** The question in the parameters of an address. */
export const questionIn = (query: URLSearchParams): SliceQuestion => ({
  focus: (query.get("of") ?? "").split("+").filter(Boolean),
  selected: query.get("at") ?? undefined,
  sharers: query.get("alone") === null,
  ghosted: query.get("ghosts") !== null,
});

/** The slice that a question asks for; undefined while nothing is asked. */
export function sliceFor(drawnFrom: Harness, { focus, sharers }: SliceQuestion): Slice | undefined {
  const parts = focus.flatMap((id) => expand(drawnFrom, id));
  return parts.length === 0 ? undefined : sliceOf(drawnFrom, parts, { sharers });
}

/** A code stands for what it is about. */
const expand = (harness: Harness, id: string): readonly string[] =>
  harness.monitors?.some((m) => m.code === id) === true ? focusOfCode(harness, id) : [id];

/** Parts and wires that are drawn but not on this vehicle. */
export function ghostsOf(drawnFrom: Harness, fitted: Harness): ReadonlySet<string> {
  const here = new Set([...fitted.components, ...fitted.wires].map((x) => x.id));
  return new Set([...drawnFrom.components, ...drawnFrom.wires].flatMap((x) => (here.has(x.id) ? [] : [x.id])));
}

/** What fits what was typed. */
export const foundBy = (harness: Harness, typed: string): readonly Found[] => findInHarness(harness, typed);

/** What can be looked at before anything is asked, by kind. */
export function startingPoints(harness: Harness): readonly { readonly title: string; readonly ids: readonly string[] }[] {
  const of = (is: (part: Component) => boolean): readonly string[] => harness.components.flatMap((c) => (is(c) ? [c.id] : []));
  const family = (part: Component): string | undefined => (part.kind === "device" ? deviceOf(part).device.family : undefined);
  return [
    { title: "Loads", ids: of((c) => c.kind === "load" || family(c) === "load") },
    { title: "Modules", ids: of((c) => family(c) === "module") },
    { title: "Sensors", ids: of((c) => family(c) === "sensor") },
    { title: "Supply", ids: of((c) => family(c) === "supply") },
  ].filter((group) => group.ids.length > 0);
}
