import type { VehicleState } from "../circuit/index.ts";
import { INSTRUMENTS, type Evidence, type Question } from "../diagnosis/index.ts";
import { linkOf, lookupOf, partOfLink, type Harness } from "../harness/index.ts";
import { resolutionOf } from "./evidence.ts";
import type { JobView } from "./fold.ts";

/** Everything found since the last mend as evidence, in order of time. */
export function evidenceOf(view: JobView): readonly Evidence[] {
  const mends = view.mends.filter((m) => m.struck === undefined).length;
  const readings = view.readings.flatMap((r): (Evidence & { readonly at: string })[] => {
    if (r.struck !== undefined || r.mendsBefore !== mends) return [];
    const { leads, shown, state, text } = r.data;
    const observe: Evidence["observe"] =
      leads.quantity === "amps" ? { kind: "amps", around: leads.around } : { kind: leads.quantity, red: leads.red, black: leads.black };
    const result: Evidence["result"] =
      shown.kind === "over"
        ? { kind: "over" }
        : { kind: "value", value: shown.value, ...(leads.quantity === "volts" ? { resolution: resolutionOf(text) } : {}) };
    return [{ id: r.id, at: r.at, state, observe, result, source: "technician" }];
  });
  const seen = view.seen.flatMap((s): (Evidence & { readonly at: string })[] =>
    s.struck !== undefined || s.mendsBefore !== mends
      ? []
      : [
          {
            id: s.id,
            at: s.at,
            state: s.data.state,
            observe: s.data.observe,
            result: { kind: "word", word: s.data.word },
            source: "technician",
          },
        ],
  );
  return [...readings, ...seen].sort((p, q) => (p.at < q.at ? -1 : p.at > q.at ? 1 : 0)).map(({ at: _, ...e }) => e);
}

/** What the engine is asked for a job: what is complained of, or else the load that is being traced in the state that the vehicle is in. */
export function questionOfJob(harness: Harness, view: JobView, load: string, state: VehicleState): Question {
  const wrong = view.seen.filter((s) => s.struck === undefined && s.data.wrong);
  const link = linkOf(harness, load);
  const own = (link === undefined ? undefined : partOfLink(harness, link)?.id) ?? load;
  const focus = [...new Set(wrong.flatMap((s) => (s.data.observe.kind === "part" ? [s.data.observe.part] : [])))];
  return {
    harness,
    focus: (focus.length > 0 ? focus : [own]).filter((id) => lookupOf(harness).parts.has(id)),
    state: wrong[0]?.data.state ?? state,
    presence: 1,
    evidence: evidenceOf(view),
    circumstances: [],
    instruments: INSTRUMENTS,
    standing: state,
  };
}
