import { jobQuery, PAGE_ROWS, type JobQuery } from "@rheonom/contract/light";

/** What can be shown of the board, in the order of work. */
export const SHOWN = [
  { id: "open", text: "Open" },
  { id: "circuit", text: "Circuit" },
  { id: "trace", text: "Trace" },
  { id: "prove", text: "Verify" },
  { id: "record", text: "Report" },
  { id: "closed", text: "Closed" },
  { id: "all", text: "All jobs" },
] as const satisfies readonly { readonly id: JobQuery["stage"]; readonly text: string }[];
const SORTS: readonly string[] = jobQuery.shape.sort.unwrap().options;

/** What of the board the address asks for; anything odd in it is passed over. */
export function readAddress(params: URLSearchParams): JobQuery {
  const stage = SHOWN.find((s) => s.id === params.get("show"))?.id ?? "open";
  const sort = params.get("sort") ?? "lastAt";
  const page = Math.max(1, Math.min(200_000, Math.floor(Number(params.get("page") ?? "1")) || 1));
  return {
    search: (params.get("find") ?? "").slice(0, 200),
    stage,
    whose: (params.get("whose") ?? "").slice(0, 80),
    sort: (SORTS.includes(sort) ? sort : "lastAt") as JobQuery["sort"],
    order: params.get("order") === "asc" ? "asc" : "desc",
    limit: PAGE_ROWS,
    offset: (page - 1) * PAGE_ROWS,
  };
}
