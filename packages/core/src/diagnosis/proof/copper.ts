import { linksOf, type Harness } from "../../harness/index.ts";

/** Whether two places are one spot: the pin of a part and the cavity or terminal that is plugged onto it without a wire between. */
export function sameCopper(harness: Harness, p: string, q: string): boolean {
  return p === q || linksOf(harness).some((l) => l.kind === "joint" && ((l.a === p && l.b === q) || (l.a === q && l.b === p)));
}
