import { lookupOf, partNameIn, type Harness } from "../../harness/index.ts";

/** Whether a thing lies in a zone, a loom, or at a connector. */
export function isAt(harness: Harness, link: string, where: string): boolean {
  if (link === where || link.startsWith(`${where}.`)) return true;
  const wire = lookupOf(harness).wires.get(link);
  if (wire !== undefined) return (wire.segments ?? []).includes(where);
  const part = lookupOf(harness).parts.get(partNameIn(link));
  return part?.zone === where;
}
