import { useEffect, useState } from "react";
import { Link } from "react-router";
import { formatISO } from "date-fns/formatISO";
import type { JobDate } from "@rheonom/contract/shop";
import { useDueQuery } from "../../api/shop-api.ts";
import { dayWords } from "../../ui/day-words.ts";
import { Notice } from "../../ui/notice.tsx";

const minuteNow = (): string => formatISO(new Date()).slice(0, 16);
/** How often it is looked whether something has come due, ms. */
const LOOK_MS = 60_000;
const SHOWN = 6;

const WHAT: Readonly<Record<JobDate["kind"], (d: JobDate) => string>> = {
  waits: (d) => (d.what === "" ? "wait is over" : d.what),
  ask: () => "ask whether it came back",
  promised: () => "promised",
};

/** What is due now: waits that are over, promises, and customers to be asked. Nothing while nothing is. */
export function Due() {
  const [now, setNow] = useState(minuteNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(minuteNow()), LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  const { data } = useDueQuery(now);
  const due = data?.due ?? [];
  if (due.length === 0) return null;
  return (
    <Notice tone="caution" role="status" title={`${due.length} due`}>
      {due.slice(0, SHOWN).map((d, i) => (
        <span key={`${d.jobId} ${d.kind}`}>
          {i === 0 ? "" : " · "}
          <Link to={`/jobs/${d.jobId}/${d.kind === "ask" ? "record" : "trace"}`}>
            {d.registration === "" ? d.vehicle : d.registration}
          </Link>{" "}
          {WHAT[d.kind](d)}, {dayWords(d.on)}
        </span>
      ))}
      {due.length > SHOWN ? ` and ${due.length - SHOWN} more` : ""}
    </Notice>
  );
}
