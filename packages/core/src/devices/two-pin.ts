import { type FailureMode, NO_DEGREE, SERIES_OHMS, SHUNT_OHMS, type Terminal } from "./device.ts";

/** What every part with two pins and one element shares. */
export const twoTerminals: readonly Terminal[] = [
  { name: "1", role: "load" },
  { name: "2", role: "load" },
];
/** The one way of a part with two terminals. */
export const twoPinWay = (part: string, consumes = true) => [{ part, a: "1", b: "2", consumes }] as const;
/** Open, too much resistance and shorted, of the named part between two terminals, with their weights among the part's failures; `called`: its name for a person. */
export const twoPinModes = (
  part: string,
  openWeight: number,
  shortWeight: number,
  a = "1",
  b = "2",
  called = part,
): readonly FailureMode[] => [
  { id: `${part} open`, words: `${called} open circuit`, weight: openWeight, harm: { kind: "open", part }, severities: NO_DEGREE },
  {
    id: `${part} resistance`,
    words: `high resistance in the ${called}`,
    weight: openWeight / 1.5,
    harm: { kind: "series", part },
    severities: SERIES_OHMS,
  },
  { id: `${part} shorted`, words: `${called} shorted`, weight: shortWeight, harm: { kind: "shunt", a, b }, severities: SHUNT_OHMS },
];
