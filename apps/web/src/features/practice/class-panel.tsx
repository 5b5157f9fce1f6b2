import { useState } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import type { PracticeClass, PracticeMenu } from "@rheonom/contract/practice";
import { usePracticeClassQuery } from "../../api/practice-api.ts";
import { failureOf } from "../../api/failure.ts";
import { record } from "../../job/record.ts";
import { useAppDispatch, useAppSelector } from "../../job/store.ts";
import { ago } from "../../ui/ago.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { PointsPanel } from "./points-panel.tsx";
import { toast } from "../../ui/toast.tsx";

const SavedLink = styled.a`
  display: inline-flex;
  align-items: center;
  min-height: var(--target);
  color: var(--accent);
`;

/** How often it is asked who is at what, ms. */
const POLL_MS = 5000;

/** For whoever teaches: who is at what now, a hint where it is wanted, and what came of it. */
export function ClassPanel({ menu }: { menu: PracticeMenu }) {
  const { data, error } = usePracticeClassQuery(undefined, { pollingInterval: POLL_MS, skipPollingIfUnfocused: true });
  if (error !== undefined)
    return (
      <Notice tone="danger" role="alert">
        {failureOf(error).message}
      </Notice>
    );
  if (data === undefined) return <p role="status">Loading …</p>;
  return (
    <>
      <Panel aria-label="At work now">
        <h2>At work now</h2>
        {data.open.length === 0 ? (
          <p>No open practice job. Make one below, or for somebody under What if of a vehicle.</p>
        ) : (
          <Table aria-label="Open practice jobs">
            <thead>
              <tr>
                <th scope="col">Who</th>
                <th scope="col">Job</th>
                <th scope="col">Stage</th>
                <th scope="col">Last entry</th>
                <th scope="col">
                  <Hidden>Hint</Hidden>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.open.map((o) => (
                <AtWork key={o.jobId} open={o} />
              ))}
            </tbody>
          </Table>
        )}
      </Panel>
      <Panel aria-label="Results">
        <h2>Results</h2>
        {data.results.length === 0 ? (
          <p>No practice job debriefed yet.</p>
        ) : (
          <>
            <Table aria-label="Results of practice jobs">
              <thead>
                <tr>
                  <th scope="col">Who</th>
                  <th scope="col">Vehicle</th>
                  <th scope="col">Family</th>
                  <th scope="col">Result</th>
                  <th scope="col" className="n">
                    Score
                  </th>
                  <th scope="col" className="n">
                    Tests
                  </th>
                  <th scope="col" className="n">
                    Minutes
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.results.slice(0, SHOWN).map((r) => (
                  <tr key={r.jobId}>
                    <td>{r.by}</td>
                    <td>
                      <Link to={`/jobs/${r.jobId}/debrief`}>{menu.vehicles.find((v) => v.id === r.vehicle)?.name ?? r.vehicle}</Link>
                    </td>
                    <td>{r.family}</td>
                    <td>{r.isFound ? "found" : "not found"}</td>
                    <td className="n">{r.score}</td>
                    <td className="n">
                      {r.tests}
                      {r.planTests === undefined ? "" : ` / ${r.planTests}`}
                    </td>
                    <td className="n">
                      {r.minutes.toFixed(0)}
                      {r.planMinutes === undefined ? "" : ` / ${r.planMinutes.toFixed(0)}`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
            <Row>
              <Faint>Tests and minutes: own / by the first proposals.</Faint>
              <SavedLink href="/api/practice/results.csv" download>
                Save as CSV
              </SavedLink>
            </Row>
          </>
        )}
      </Panel>
      <PointsPanel points={menu.points} />
    </>
  );
}

/** Characters of what the customer said that are shown. */
const MOST_WORDS = 90;

/** Rows of results that are shown; the table that is saved has all. */
const SHOWN = 25;

function AtWork({ open: { jobId, vehicle, words, by, stage, lastAt, until, isStopped } }: { open: PracticeClass["open"][number] }) {
  const dispatch = useAppDispatch();
  const person = useAppSelector((s) => s.session.person);
  const [isHinting, setHinting] = useState(false);
  const turnClock = (): void => {
    if (person === "") return void toast("Say first who is working, at the top right.");
    dispatch(record(jobId, { type: "clock-turned", data: { running: isStopped } }));
    toast(isStopped ? `${by}’s clock runs again.` : `${by}’s clock stands: tests take no minutes until it runs again.`);
  };
  const hint = (text: string): string | undefined => {
    if (person === "") return "Say first who is working, at the top right.";
    if (text.trim() === "") return "Say something, such as: where does the current come back?";
    dispatch(record(jobId, { type: "hint-given", data: { text: text.trim().slice(0, 300) } }));
    toast(`${by} sees the hint now.`);
    setHinting(false);
    return undefined;
  };
  return (
    <tr>
      <td>
        {by}
        {until === "" ? null : <Faint> until {until}</Faint>}
      </td>
      <td>
        <Link to={`/jobs/${jobId}/trace`}>{vehicle}</Link>
        <br />
        <Faint>{words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS)} …` : words}</Faint>
      </td>
      <td>{stage}</td>
      <td>{lastAt === "" ? "–" : ago(lastAt)}</td>
      <td>
        {isHinting ? (
          <OneLineForm label="Hint" words="Send" onSubmit={hint} />
        ) : (
          <Row style={{ flexWrap: "nowrap" }}>
            <Button onPress={() => setHinting(true)} aria-label={`Hint for ${by}`}>
              Hint
            </Button>
            <Button onPress={turnClock} aria-label={`${isStopped ? "Start" : "Stop"} the clock of ${by}`}>
              {isStopped ? "Start clock" : "Stop clock"}
            </Button>
          </Row>
        )}
      </td>
    </tr>
  );
}
