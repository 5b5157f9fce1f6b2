import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { styled } from "styled-components";
import { partNameIn, linkOf, lookupOf, placesOfComponent, type Harness } from "@rheonom/core/harness";
import { complainedParts, type JobView } from "@rheonom/core/job";
import { CircuitExplorer } from "../../explore/circuit-explorer.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { stateOfJob } from "../../job/state-of-job.ts";
import { useQuery } from "../../worker/use-query.ts";
import { FoundNotes } from "./found-notes.tsx";

const Frame = styled.main`
  padding: 0 var(--s3) var(--s3);
`;
const NO_VOLTS: ReadonlyMap<string, number | undefined> = new Map();

/** The slice of what the job is about, with what was found otherwise than drawn marked in it. */
export function CircuitSlice({ harness }: { harness: Harness }) {
  const { job } = useJobContext();
  const [params, setParams] = useSearchParams();
  const { view } = job;
  const asked = useMemo(() => questionOf(params, view, harness), [params, view, harness]);
  const state = useMemo(() => stateOfJob(job, harness), [job, harness]);
  const sound = useQuery("sound", harness, { state }).value;
  const notes = useMemo(() => notesOf(harness, view), [harness, view]);
  const ask = (change: Readonly<Record<string, string | undefined>>): void =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [name, value] of Object.entries(change))
          if (value === undefined) next.delete(name);
          else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  return (
    <Frame aria-label="Drawing">
      <CircuitExplorer
        harness={harness}
        whole={harness}
        options={(harness.options ?? []).map((o) => o.id)}
        state={state}
        volts={sound?.volts ?? NO_VOLTS}
        query={asked}
        ask={ask}
        name={view.circuit?.vehicle?.id ?? "circuit"}
        notes={notes}
      >
        <FoundNotes />
      </CircuitExplorer>
    </Frame>
  );
}

/** What the address asks, or what is complained of while it asks nothing. */
function questionOf(params: URLSearchParams, view: JobView, harness: Harness): URLSearchParams {
  if (params.get("of") !== null) return params;
  const parts = complainedParts(view).filter((id) => lookupOf(harness).parts.has(id));
  const next = new URLSearchParams(params);
  if (parts.length > 0) next.set("of", parts.join("+"));
  return next;
}

/** What was found otherwise, at the places where it stands in the drawing. */
function notesOf(harness: Harness, view: JobView): ReadonlyMap<string, string> {
  const notes = new Map<string, string>();
  for (const { data, struck } of view.found) {
    if (struck !== undefined) continue;
    const link = linkOf(harness, data.at);
    const part = lookupOf(harness).parts.get(partNameIn(data.at));
    const place = link?.a ?? (part === undefined ? undefined : placesOfComponent(harness, part)[0]);
    if (place !== undefined) notes.set(place, `found: ${data.found}`);
  }
  return notes;
}
