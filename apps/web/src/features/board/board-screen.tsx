import { lazy, Suspense, useCallback, useDeferredValue, useEffect, useMemo, useState, type ReactNode } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { formatISO } from "date-fns/formatISO";
import { Plus } from "lucide-react";
import { styled } from "styled-components";
import { DATES_PATH, PAGE_ROWS, type JobList, type JobQuery, type JobSummary } from "@rheonom/contract/light";
import { useJobsQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { ago } from "../../ui/ago.ts";
import { dayWords } from "../../ui/day-words.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { SortHeading, Table } from "../../ui/table.tsx";
import { useShortcuts } from "../../job/shortcuts.ts";
import { readAddress, SHOWN } from "./address.ts";
import { TakeBundle } from "./take-bundle.tsx";

const Vehicle = styled(Link)`
  display: block;
  min-height: var(--target);
  padding: var(--s1) 0;
  color: var(--ink);
  font-weight: 680;
  text-decoration: none;
  &:hover {
    color: var(--accent);
    text-decoration: underline;
  }
  span {
    display: block;
    font-weight: 400;
    color: var(--ink-2);
  }
`;
const CalendarLink = styled.a`
  display: inline-flex;
  align-items: center;
  min-height: var(--target);
  margin-left: auto;
  color: var(--accent);
`;
const Stage = styled.span`
  display: inline-block;
  padding: 2px 10px;
  border-radius: 99px;
  border: 1px solid var(--line-strong);
  white-space: nowrap;
  &[data-stage="closed"] {
    border-style: dashed;
    color: var(--ink-2);
  }
`;
const Quiet = styled(Button).attrs({ look: "quiet" as const })`
  justify-content: start;
  align-items: flex-start;
  text-align: left;
  padding: 0;
`;
/** What is next where no test is: by how far the job has come. */
const NEXT: Readonly<Partial<Record<JobSummary["stage"], string>>> = {
  complaint: "complaint to be taken",
  circuit: "circuit to be chosen",
  prove: "repair to be verified",
  record: "report to be finished",
};
/** What a job waits for, else what is to be done next. */
function Next({ job }: { job: JobSummary }) {
  const { stage, waits, until, next } = job;
  const isDue = until !== "" && until <= formatISO(new Date()).slice(0, until.length);
  return (
    <>
      <Stage data-stage={stage}>{SHOWN.find((s) => s.id === stage)?.text ?? stage}</Stage>{" "}
      {stage === "closed" ? null : waits === "" ? (
        <span>{next === "" ? (NEXT[stage] ?? "") : next}</span>
      ) : (
        <strong>
          waits for {waits}
          {until === "" ? "" : isDue ? `, due ${dayWords(until)}` : ` until ${dayWords(until)}`}
        </strong>
      )}
      {stage === "closed" || job.promised === "" ? null : <Faint> Promised {dayWords(job.promised)}.</Faint>}
      <Ask on={job.askOn} after={job.askAfter} />
    </>
  );
}

/** When somebody should ask whether it came back; in bold once the day has come. */
function Ask({ on, after }: { on: string; after: string }) {
  if (on === "" && after === "") return null;
  const text = ` Ask ${[on === "" ? "" : dayWords(on), after === "" ? "" : `after ${after}`].filter((t) => t !== "").join(" or ")} whether it came back.`;
  return on !== "" && on <= formatISO(new Date(), { representation: "date" }) ? <strong>{text}</strong> : <Faint>{text}</Faint>;
}

const COLUMNS: readonly {
  readonly id: JobQuery["sort"];
  readonly heading: string;
  readonly cell: (job: JobSummary, plan: (job: JobSummary) => void) => ReactNode;
}[] = [
  {
    id: "vehicle",
    heading: "Vehicle",
    cell: (j) => (
      <Vehicle to={`/jobs/${j.id}/${j.stage === "closed" ? "record" : j.stage}`}>
        {j.vehicle === "" ? "Complaint cannot be read" : j.vehicle}
        <span>{j.registration}</span>
      </Vehicle>
    ),
  },
  { id: "words", heading: "Complaint", cell: (j) => <span>{j.words}</span> },
  {
    id: "stage",
    heading: "Next step",
    cell: (j) => <Next job={j} />,
  },
  { id: "leftUndone", heading: "Not put back", cell: (j) => (j.leftUndone === 0 ? <Faint>–</Faint> : <strong>{j.leftUndone}</strong>) },
  {
    id: "whose",
    heading: "Whose",
    cell: (j, plan) =>
      j.stage === "closed" ? (
        j.whose
      ) : (
        <Quiet onPress={() => plan(j)} aria-label={`Whose job, ${j.vehicle} ${j.registration}: ${j.whose}`}>
          {j.whose}
        </Quiet>
      ),
  },
  { id: "lastAt", heading: "Last entry", cell: (j) => <span title={j.lastAt}>{ago(j.lastAt)}</span> },
];

/** An answer so young is shown as it is, s; the feed tells what has changed since. */
const FRESH_S = 2;
/** Rows in sight before anything is scrolled. */
const FIRST_ROWS = 8;
/** How long typing rests before the board is searched, ms. */
const SEARCH_MS = 200;

/** The shop's jobs, a page at a time; the address says which part of them is shown. */
export function BoardScreen() {
  const [params, setParams] = useSearchParams();
  const query = useMemo(() => readAddress(params), [params]);
  const { data, error, isLoading, refetch } = useJobsQuery(query, { refetchOnMountOrArgChange: FRESH_S });
  const navigate = useNavigate();
  const change = useCallback(
    (part: Readonly<Record<string, string>>) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          // Another search or order begins at its first page.
          next.delete("page");
          for (const [name, value] of Object.entries(part))
            if (value === "") next.delete(name);
            else next.set(name, value);
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  useShortcuts({ newJob: () => void navigate("/jobs/new") });
  // What fits on the first screen is drawn at once, the rest right after it.
  const whole = useDeferredValue(true, false);
  const jobs = useMemo(() => (whole ? data?.jobs : data?.jobs.slice(0, FIRST_ROWS)) ?? [], [data, whole]);
  const all = Object.values(data?.counts ?? {}).reduce((sum, n) => sum + n, 0);
  const isWhole = query.search === "" && query.whose === "";
  const [planned, setPlanned] = useState<JobSummary | undefined>(undefined);
  const people = data?.people ?? [];
  return (
    <Page>
      <Row style={{ justifyContent: "space-between", alignItems: "end" }}>
        <Row style={{ alignItems: "end" }}>
          <h1>Board</h1>
          {data === undefined || data.total <= PAGE_ROWS ? null : (
            <Pages query={query} total={data.total} onPage={(page) => change({ page })} />
          )}
        </Row>
        <Row style={{ alignItems: "end" }}>
          <SearchField value={query.search} onSearch={(find) => change({ find })} />
          <TakeBundle />
          <Button look="solid" onPress={() => void navigate("/jobs/new")}>
            <Plus size={18} aria-hidden /> New job
          </Button>
        </Row>
      </Row>
      <Row>
        <Segmented
          label="Show"
          hideLabel
          options={SHOWN.map((s) => ({ id: s.id, text: `${s.text}${data === undefined ? "" : ` ${countOf(data, s.id)}`}` }))}
          value={query.stage}
          onChange={(show) => change({ show: show === "open" ? "" : show })}
        />
        {people.length < 2 && query.whose === "" ? null : (
          <Suspense fallback={null}>
            <WhoseFilter people={people} whose={query.whose} onWhose={(whose) => change({ whose })} />
          </Suspense>
        )}
        <CalendarLink href={DATES_PATH} title="What jobs wait for, and when to ask whether a fault came back, for a calendar program">
          Calendar feed
        </CalendarLink>
      </Row>
      {error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(error).message} <Button onPress={() => void refetch()}>Try again</Button>
        </Notice>
      )}
      {whole && all > 0 ? (
        <Suspense fallback={null}>
          <Due />
        </Suspense>
      ) : null}
      {isLoading ? <p role="status">Fetching the jobs …</p> : null}
      {data !== undefined && all === 0 && isWhole ? <Beginnings /> : null}
      {data !== undefined && !(all === 0 && isWhole) ? (
        <Panel style={{ padding: 0, overflowX: "auto" }}>
          <Table>
            <caption>
              <Hidden>Jobs of the shop</Hidden>
            </caption>
            <thead>
              <tr>
                {COLUMNS.map((c) => (
                  <SortHeading
                    key={c.id}
                    order={query.sort === c.id ? query.order : undefined}
                    onSort={(order) => change({ sort: c.id, order })}
                  >
                    {c.heading}
                  </SortHeading>
                ))}
              </tr>
            </thead>
            <tbody>
              {jobs.map((j) => (
                <tr key={j.id}>
                  {COLUMNS.map((c) => (
                    <td key={c.id}>{c.cell(j, setPlanned)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
          {jobs.length === 0 ? (
            <p style={{ padding: "var(--s4)" }}>
              No job matches{query.search === "" ? "" : ` “${query.search}”`}.{" "}
              <Button onPress={() => change({ find: "", show: "all", whose: "" })}>Show all jobs</Button>
            </p>
          ) : null}
        </Panel>
      ) : null}
      {planned === undefined ? null : (
        <Suspense fallback={null}>
          <PlanDialog job={planned} people={people} onClose={() => setPlanned(undefined)} />
        </Suspense>
      )}
    </Page>
  );
}

// What most boards do not need right away comes after the first screen.
const WhoseFilter = lazy(async () => ({ default: (await import("./whose-filter.tsx")).WhoseFilter }));
const Due = lazy(async () => ({ default: (await import("./due.tsx")).Due }));
const Beginnings = lazy(async () => ({ default: (await import("./beginnings.tsx")).Beginnings }));
const PlanDialog = lazy(async () => ({ default: (await import("../../job/plan-dialog.tsx")).PlanOfJob }));

function countOf({ counts }: JobList, stage: JobQuery["stage"]): number {
  const all = Object.values(counts).reduce((sum, n) => sum + n, 0);
  if (stage === "all") return all;
  return stage === "open" ? all - (counts.closed ?? 0) : (counts[stage] ?? 0);
}

/** What is typed is searched when typing rests; the address follows. */
function SearchField({ value, onSearch }: { value: string; onSearch: (text: string) => void }) {
  const [text, setText] = useState(value);
  const [searched, setSearched] = useState(value);
  // Another address, as by the back key, is what counts.
  if (value !== searched) {
    setSearched(value);
    setText(value);
  }
  useEffect(() => {
    if (text === value) return;
    const timer = setTimeout(() => onSearch(text), SEARCH_MS);
    return () => clearTimeout(timer);
  }, [text, value, onSearch]);
  return <Field label="Find" value={text} onChange={setText} placeholder="vehicle, plate, words" maxLength={200} />;
}

function Pages({ query, total, onPage }: { query: JobQuery; total: number; onPage: (page: string) => void }) {
  const page = query.offset / PAGE_ROWS + 1;
  const last = Math.ceil(total / PAGE_ROWS);
  const from = Math.min(total, query.offset + 1);
  return (
    <Row as="nav" aria-label="Pages of the board">
      <Button onPress={() => onPage(page <= 2 ? "" : String(page - 1))} isDisabled={page <= 1}>
        Previous
      </Button>
      <span>
        {from}–{Math.min(total, query.offset + PAGE_ROWS)} of {total}
      </span>
      <Button onPress={() => onPage(String(page + 1))} isDisabled={page >= last}>
        Next
      </Button>
    </Row>
  );
}
