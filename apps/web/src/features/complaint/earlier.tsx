import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { EarlierJob } from "@rheonom/contract/light";
import { useEarlierJobsQuery } from "../../api/api.ts";
import { ago } from "../../ui/ago.ts";
import { bare } from "../../ui/bare.ts";
import { Notice } from "../../ui/notice.tsx";

/** So much of a plate has to be typed before it is looked for. */
const LEAST_TYPED = 2;
/** How long typing rests before it is looked for, ms. */
const REST_MS = 250;
const MOST_SHOWN = 4;
const NONE: readonly EarlierJob[] = [];

/** Jobs of vehicles whose plate, fleet number or VIN begins with what is typed. */
export function useEarlier(typed: string): readonly EarlierJob[] {
  const [find, setFind] = useState("");
  useEffect(() => {
    const timer = setTimeout(() => setFind(typed.trim().slice(0, 40)), REST_MS);
    return () => clearTimeout(timer);
  }, [typed]);
  const { data } = useEarlierJobsQuery(find, { skip: find.length < LEAST_TYPED });
  return find.length < LEAST_TYPED ? NONE : (data?.jobs ?? NONE);
}

/** The vehicles of earlier jobs, each once, by its latest job. */
export function vehiclesOf(
  jobs: readonly EarlierJob[],
): readonly { readonly id: string; readonly text: string; readonly job: EarlierJob }[] {
  const latest = new Map<string, EarlierJob>();
  for (const job of jobs) {
    const key = `${bare(job.registration)} ${job.vehicle}`;
    if (!latest.has(key)) latest.set(key, job);
  }
  return [...latest.values()].map((job) => ({
    id: `job ${job.jobId}`,
    text: [job.registration, job.vehicle, job.vin, `here ${ago(job.lastAt)}`].filter((w) => w !== "").join(", "),
    job,
  }));
}

/** What was here with this plate before, and what was done then. */
export function EarlierHere({ registration }: { registration: string }) {
  const found = useEarlier(registration);
  const here = useMemo(
    () => found.filter((j) => j.registration !== "" && bare(j.registration) === bare(registration)),
    [found, registration],
  );
  if (here.length === 0) return null;
  const vehicles = [...new Set(here.map((j) => j.vehicle))];
  return (
    <section aria-label="Here before">
      {vehicles.length > 1 ? (
        <Notice tone="caution">
          This plate stands for {vehicles.length} vehicles: {vehicles.join("; ")}. Check which one is in the bay.
        </Notice>
      ) : null}
      <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
        {here.slice(0, MOST_SHOWN).map((j) => (
          <li key={j.jobId}>
            Here {ago(j.lastAt)}
            {vehicles.length > 1 ? `, ${j.vehicle}` : ""}:{" "}
            {j.repairs.length > 0 ? j.repairs.join("; ") : j.stage === "closed" ? "nothing repaired" : "still open"}{" "}
            <Link to={`/jobs/${j.jobId}/record`}>{j.words}</Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
