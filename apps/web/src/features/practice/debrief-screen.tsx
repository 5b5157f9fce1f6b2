import { useState } from "react";
import { Link } from "react-router";
import { CircleCheck, CircleX } from "lucide-react";
import { styled } from "styled-components";
import type { DebriefShown } from "@rheonom/contract/practice";
import { formatMoney } from "@rheonom/core/repair";
import { useDebriefProgressQuery, useDebriefQuery } from "../../api/practice-api.ts";
import { useShopQuery } from "../../api/shop-api.ts";
import { failureOf } from "../../api/failure.ts";
import { useBeginPractice } from "../../job/begin-practice.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { Notice } from "../../ui/notice.tsx";
import { percent } from "../../ui/percent.ts";
import { Table } from "../../ui/table.tsx";
import { BeliefChart } from "./belief-chart.tsx";

const Figures = styled.dl`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s5);
  margin: 0;
  dt {
    color: var(--ink-2);
  }
  dd {
    margin: 0;
    font-size: 1.25rem;
    font-weight: 680;
  }
  small {
    display: block;
    color: var(--ink-2);
    font-size: 0.9375rem;
    font-weight: 400;
  }
`;
const Verdict = styled.p`
  display: flex;
  gap: var(--s2);
  align-items: center;
  font-weight: 680;
  font-size: 1.125rem;
  svg {
    flex: none;
  }
`;

/** What a closed job on a simulated vehicle comes to: what was wrong, what each test told, and what to practise. */
export function DebriefScreen() {
  const { job } = useJobContext();
  const isClosed = job.view.closed !== undefined;
  // Closed for the server too: what waits to be sent it does not know.
  const isKept = isClosed && job.unsaved.size === 0;
  const { data, error, isFetching } = useDebriefQuery({ id: job.id, key: job.events.length }, { skip: !isKept || !job.simulated });
  return (
    <Page>
      <h1>Debrief</h1>
      {!job.simulated ? (
        <Notice tone="info">Only jobs on a simulated vehicle have a debrief: on a real one nobody knows what was really wrong.</Notice>
      ) : !isClosed ? (
        <Notice tone="info">
          What is wrong stays hidden while the job is open. Close it on <Link to={`/jobs/${job.id}/prove`}>Verify</Link>, verified or with a
          reason; then the debrief is here.
        </Notice>
      ) : !isKept ? (
        <p role="status">Waiting until the server has what was recorded …</p>
      ) : error !== undefined ? (
        <Notice tone="danger" role="alert">
          {failureOf(error).message}
        </Notice>
      ) : data === undefined || isFetching ? (
        <Underway jobId={job.id} />
      ) : (
        <>
          <DebriefOf debrief={data} />
          {data.world === undefined ? null : <Again jobId={job.id} steps={data.steps} />}
        </>
      )}
    </Page>
  );
}

/** How often it is asked how far a debrief is, ms. */
const TOLD_EVERY_MS = 700;

/** A debrief is being worked out. */
function Underway({ jobId }: { jobId: string }) {
  const { data } = useDebriefProgressQuery(jobId, { pollingInterval: TOLD_EVERY_MS });
  const share = data?.share ?? 0;
  return (
    <>
      <p role="status">Going through the job step by step …</p>
      <progress aria-label="Debrief" max={1} value={share} /> <Faint>{percent(share)}</Faint>
    </>
  );
}

/** What counts, and how much of it was reached. */
function ScoreOf({ debrief: { score, world } }: { debrief: DebriefShown }) {
  return (
    <Panel aria-label="Score">
      <h2>
        Score {score.total} <Faint>of 100</Faint>
      </h2>
      <Table aria-label="Points by what counts">
        <tbody>
          {score.rows.map((r) => (
            <tr key={r.id}>
              <th scope="row">{r.words}</th>
              <td style={{ whiteSpace: "nowrap" }}>
                {r.points < 0 ? `−${-r.points}` : r.points} <Faint>{r.most === 0 ? "" : `of ${r.most}`}</Faint>
              </td>
              <td style={{ width: "100%" }}>{r.why}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Faint>
        <Cost cost={score.cost} />{" "}
        {world === undefined
          ? "A demo job: its world has no figures of its own."
          : `World: ${world.family}, seed ${world.seed}, difficulty ${Math.round(100 * world.difficulty)} of 100${
              world.twists.length === 0 ? "" : ` (${world.twists.join(", ")})`
            }, present ${Math.round(100 * world.presence)} % of the time${world.afterMinutes === undefined ? "" : ` after ${world.afterMinutes} min of tests`}${world.beside.length === 0 ? "" : `; beside it: ${world.beside.join("; ")}`}${world.misdrawn === undefined ? "" : `; ${world.misdrawn}`}.`}
      </Faint>
    </Panel>
  );
}

/** What the customer pays for, in money where the shop has said what an hour costs. */
function Cost({ cost: { minutes, parts, partsHours } }: { cost: DebriefShown["score"]["cost"] }) {
  const { data: shop } = useShopQuery(undefined);
  const hours = minutes / 60 + partsHours;
  const rate = shop?.hourlyRate ?? 0;
  return (
    <>
      The customer pays for {minutes.toFixed(0)} min of tests
      {parts.length === 0 ? " and no part" : ` and ${parts.join(", ")}, at some ${partsHours.toFixed(1)} h of labour`}
      {rate === 0 ? "" : `: about ${formatMoney(Math.round(hours * rate), shop!.currency, navigator.language)} before tax`}.
    </>
  );
}

/** What comes next after this one. */
function Again({ jobId, steps }: { jobId: string; steps: DebriefShown["steps"] }) {
  const [from, setFrom] = useState(steps.at(-1)?.entry ?? "");
  const { begin, isBusy, beside } = useBeginPractice();
  const advice = useJobContext().job.view.practice?.advice ?? "on";
  const next = (how: "more" | "harder" | "elsewhere") => () => begin({ like: { job: jobId, how }, advice });
  return (
    <Panel aria-label="Next">
      <h2>Next</h2>
      <Row>
        <Button look="solid" isDisabled={isBusy} onPress={next("more")}>
          More like this one
        </Button>
        <Button isDisabled={isBusy} onPress={next("harder")}>
          A harder one
        </Button>
        <Button isDisabled={isBusy} onPress={next("elsewhere")}>
          The same kind elsewhere
        </Button>
        <Link to="/practice">Choose another one</Link>
      </Row>
      {steps.length === 0 ? null : (
        <Row>
          <Select
            label="Try this one again from"
            inline
            value={from}
            onChange={setFrom}
            options={steps.map((s, i) => ({ id: s.entry, text: i === 0 ? "the complaint" : `after test ${i}` }))}
          />
          <Button isDisabled={isBusy} onPress={() => begin({ again: { job: jobId, before: from }, advice })}>
            Try again
          </Button>
          <Faint>It counts for nothing.</Faint>
        </Row>
      )}
      {beside}
    </Panel>
  );
}

function DebriefOf({ debrief }: { debrief: DebriefShown }) {
  const { truth, isFound, mine, plan, provenAt, acts, lessons, steps } = debrief;
  const wrong = acts.filter((a) => !a.isRight);
  return (
    <>
      <Panel aria-label="Result">
        <Verdict>
          {isFound ? <CircleCheck size={24} aria-hidden /> : <CircleX size={24} aria-hidden />}
          {isFound ? "Found" : "Not found"}: {truth.join("; ")}
        </Verdict>
        <Figures>
          <Figure name="Tests" value={String(mine.tests)} beside={plan === undefined ? "" : `${plan.tests} by the first proposals`} />
          <Figure
            name="Minutes of work"
            value={mine.minutes.toFixed(0)}
            beside={plan === undefined ? "" : `${plan.minutes.toFixed(0)} by the first proposals`}
          />
          <Figure name="Repaired in vain" value={String(wrong.length)} beside={wrong.map((a) => a.at).join(", ")} />
          <Figure
            name="Proven"
            value={provenAt === undefined ? "never" : `after ${provenAt} ${provenAt === 1 ? "test" : "tests"}`}
            beside=""
          />
        </Figures>
        {acts.map((a) => (
          <p key={`${a.at} ${a.after}`}>
            <strong>{a.at}</strong> {a.isReplaced ? "replaced" : "repaired"} after {a.after} {a.after === 1 ? "test" : "tests"}:{" "}
            {a.isRight ? "right" : "no cure"}. The evidence gave it {percent(a.share)}
            {enoughWords(a)}
          </p>
        ))}
      </Panel>
      <ScoreOf debrief={debrief} />
      <Panel aria-label="What to practise">
        <h2>What to practise</h2>
        {lessons.length === 0 ? (
          <p>Nothing stands out: proven before it was repaired, without detours.</p>
        ) : (
          <ol>
            {lessons.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ol>
        )}
      </Panel>
      <Panel aria-label="Belief">
        <h2>What the evidence said</h2>
        <BeliefChart debrief={debrief} />
      </Panel>
      <Panel aria-label="Steps">
        <h2>Step by step</h2>
        <Table>
          <caption>
            <Hidden>Each test beside what it could tell</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Test</th>
              <th scope="col">Showed</th>
              <th scope="col">Minutes</th>
              <th scope="col">Could tell, bits</th>
              <th scope="col">Told, bits</th>
              <th scope="col">Then likeliest</th>
              <th scope="col">Better then</th>
            </tr>
          </thead>
          <tbody>
            {steps.map((s, i) => (
              <Step key={i} step={s} isProof={provenAt === i + 1} />
            ))}
          </tbody>
        </Table>
        <Faint>A bit halves what is left. Minutes are the engine’s estimate of access, instrument and change of state.</Faint>
      </Panel>
    </>
  );
}

/** Whether the evidence was enough for a repair. */
function enoughWords({ wasEnough, missing, isRight }: DebriefShown["acts"][number]): string {
  if (wasEnough) return ", enough to act on.";
  if (missing !== "") return `, not yet proven: ${missing}.`;
  return isRight ? ", not enough: a lucky guess, or knowledge that the log does not show." : ".";
}

/** Two decimals, and no minus before nothing. */
const bits = (b: number): string => b.toFixed(2).replace(/^-(0\.00)$/, "$1");

function Step({ step: s, isProof }: { step: DebriefShown["steps"][number]; isProof: boolean }) {
  return (
    <tr>
      <th scope="row" style={{ whiteSpace: "normal" }}>
        {s.words}
        {isProof ? <Faint> with this it was proven</Faint> : null}
      </th>
      <td style={{ whiteSpace: "nowrap" }}>{s.result}</td>
      <td className="n">{s.minutes.toFixed(1)}</td>
      <td className="n">{bits(s.couldTell)}</td>
      <td className="n">{bits(s.told)}</td>
      <td>
        {s.leading} {percent(s.share)}
        {s.ruledOut.length === 0 ? null : <Faint>; ruled out: {s.ruledOut.join(", ")}</Faint>}
      </td>
      <td>{s.best === undefined ? "–" : `${s.best.words} (${s.best.bits.toFixed(2)} bits in ${s.best.minutes.toFixed(1)} min)`}</td>
    </tr>
  );
}

function Figure({ name, value, beside }: { name: string; value: string; beside: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        {value}
        {beside === "" ? null : <small>{beside}</small>}
      </dd>
    </div>
  );
}
