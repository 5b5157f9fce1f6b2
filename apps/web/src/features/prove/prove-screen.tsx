import { Link } from "react-router";
import { Archive, Check, CircleAlert, CircleDashed } from "lucide-react";
import { styled } from "styled-components";
import { describeState, stateKey } from "@rheonom/core/circuit";
import { inWords } from "@rheonom/core/diagnosis";
import { lookupOf, type Harness } from "@rheonom/core/harness";
import {
  cautionsFor,
  checkWords,
  describeLeads,
  NOT_SAID,
  pairWords,
  trayInModel,
  turnsEngine,
  type ProofCheck,
  type ProofPair,
  leadsKey,
} from "@rheonom/core/job";
import { formatVolts } from "@rheonom/core/quantity";
import { Cautions } from "../../job/cautions.tsx";
import { ClosePanel } from "../../job/close-panel.tsx";
import { identityOf } from "../../worker/identity.ts";
import { useJobContext } from "../../job/job-context.ts";
import { PicturesPanel } from "../../job/pictures/pictures-panel.tsx";
import { usePutOnShelf, useShelfOf } from "../../job/shelf/use-shelf.ts";
import { saidOn } from "../../job/said.ts";
import { TrayList } from "../../job/tray.tsx";
import { StaircaseView } from "../../drawing/staircase-view.tsx";
import { Button, buttonLink } from "../../ui/button.tsx";
import { Columns, Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { useQuery } from "../../worker/use-query.ts";
import { DrivePanel } from "./drive-panel.tsx";
import { Excuse } from "./excuse.tsx";
import { Repeat } from "./repeat.tsx";
import { ScansPanel } from "./scans-panel.tsx";
import { TestAgain } from "./test-again.tsx";
import { WatchPanel } from "./watch-panel.tsx";

const ToRecord = styled(Link)`
  ${buttonLink}
`;
const Outcome = styled.p`
  display: flex;
  gap: var(--s2);
  align-items: center;
  font-weight: 680;
  font-size: 1.0625rem;
  &[data-outcome="proven"] {
    color: var(--ok);
  }
  &[data-outcome="still failing"] {
    color: var(--suspect);
  }
`;
const OUTCOME: Record<ProofPair["outcome"], { words: string; icon: typeof Check }> = {
  proven: { words: "Verified: the failed test now passes.", icon: Check },
  "still failing": { words: "Still failing: the same test shows it again.", icon: CircleAlert },
  "not repeated": { words: "Not repeated yet. Take the same readings again, in the same state.", icon: CircleDashed },
  "cannot judge": { words: "Repeated, inconclusive. Measure across the part, or load the circuit.", icon: CircleDashed },
  "no current": {
    words: "Good, but nothing shows that current flowed. Say below what the part does now, or clamp a wire of this path.",
    icon: CircleDashed,
  },
  excused: { words: "Not repeated, with a reason.", icon: CircleDashed },
};

/** The test that failed, again, before and after side by side; and everything put back. */
export function ProveScreen() {
  return <ProofOf key={identityOf(useJobContext().harness)} />;
}

function ProofOf() {
  const { job, harness, record, showTray } = useJobContext();
  const { view } = job;
  const proof = useQuery("proof", harness, { view }).value;
  const outcome = proof?.outcome;
  const mended = view.mends.findLast((m) => m.struck === undefined);
  const cranked = proof === undefined ? undefined : [...proof.pairs, ...proof.checks].find((t) => turnsEngine(t.state));
  return (
    <Page>
      <h1>Verify</h1>
      {outcome === "no mend" || harness === undefined ? (
        <Panel>
          <p>
            No repair yet, so there is nothing to verify. Save the repair under <Link to={`/jobs/${job.id}/mend`}>Repair</Link>.
          </p>
        </Panel>
      ) : null}
      {outcome === "nothing failed before" ? (
        <Notice tone="info" title="No reading had failed before the repair">
          There is no test to repeat. Trace the circuit again under load, or say at the end why the job ends without proof.
        </Notice>
      ) : null}
      {cranked === undefined || view.clearToCrank !== undefined || view.closed !== undefined ? null : (
        <Cautions
          cautions={cautionsFor({ kind: "reading", quantity: "volts", state: cranked.state, loadAmps: 0 }, harness)}
          job={job.id}
          onClear={() => record({ type: "clear-to-crank", data: {} })}
        />
      )}
      {harness === undefined || proof === undefined || proof.checks.length === 0 ? null : (
        <Checks checks={proof.checks} harness={harness} />
      )}
      {harness === undefined
        ? null
        : proof?.pairs.map((pair) => (
            <Pair key={`${pair.load}${pair.before.fromPlace}${pair.before.toPlace}${stateKey(pair.state)}`} pair={pair} harness={harness} />
          ))}
      <ScansPanel />
      {mended === undefined ? null : <PicturesPanel at={mended.data.at} when="after" />}
      {mended === undefined ? null : <DrivePanel />}
      {mended === undefined && view.watch === undefined ? null : <WatchPanel />}
      <Panel>
        <Row style={{ justifyContent: "space-between" }}>
          <h2>Temporary changes</h2>
          <Button onPress={showTray}>
            Add or look up <kbd>t</kbd>
          </Button>
        </Row>
        <TrayList view={view} harness={harness} record={record} />
      </Panel>
      {outcome === "proven" && view.closed === undefined ? <ClosePanel /> : null}
      <Row>
        <ToRecord to={`/jobs/${job.id}/record`}>On to the report</ToRecord>
        {outcome === "open" ? <Faint>The job can be closed when every test is good now, or with a reason.</Faint> : null}
      </Row>
    </Page>
  );
}

/** What is answered when it is asked whether a part works. */
const WORDS = ["full", "weak", "none", "flickers"] as const;
const CHECKED: Record<ProofCheck["outcome"], string> = {
  proven: "good now",
  "still failing": "still failing",
  "not repeated": "not done again yet",
  excused: "not done again",
};
/** Does it work now? What was wrong and is no drop is looked at again, in the same state. */
function Checks({ checks, harness }: { checks: readonly ProofCheck[]; harness: Harness }) {
  const { job, record } = useJobContext();
  const { parts } = lookupOf(harness);
  const isClosed = job.view.closed !== undefined;
  return (
    <Panel aria-label="Does it work now">
      <h2>Does it work now?</h2>
      {checks.map((c) => {
        const label = parts.get(c.what)?.label;
        const now = { ...c.state, ...trayInModel(harness, job.view) };
        return (
          <Row key={`${c.kind} ${c.what} ${stateKey(c.state)}`} style={{ justifyContent: "space-between" }}>
            <span>
              <strong>
                {c.what}
                {label === undefined ? "" : ` ${label}`}
              </strong>{" "}
              <Faint>
                {c.before === NOT_SAID ? "" : `was ${inWords(c.before)}; `}
                {c.before === NOT_SAID && c.after === undefined ? "not answered yet" : CHECKED[c.outcome]}
                {c.after === undefined ? "" : `: ${inWords(c.after)}`}
                {c.kind === "test" ? `, expected ${c.sound}` : ""}.{" "}
                {c.kind === "part" || c.kind === "test" ? describeState(c.state, harness) : ""}
                {c.excuse === undefined ? "" : ` Cannot be repeated: ${c.excuse}.`}
              </Faint>
            </span>
            {isClosed ? null : c.kind === "part" || c.kind === "test" ? (
              stateKey(now) !== stateKey(c.state) ? (
                <Faint>Put back what is changed first.</Faint>
              ) : c.observe !== undefined ? (
                <TestAgain observe={c.observe} state={c.state} />
              ) : (
                <Row>
                  {WORDS.map((word) => (
                    <Button
                      key={word}
                      onPress={() =>
                        record({ type: "seen", data: { state: c.state, observe: { kind: "part", part: c.what }, word, wrong: false } })
                      }
                    >
                      {saidOn(word)}
                    </Button>
                  ))}
                </Row>
              )
            ) : (
              <ToRecord to={`/jobs/${job.id}/codes`}>Read codes again</ToRecord>
            )}
            {isClosed || c.outcome === "proven" || c.outcome === "excused" ? null : <Excuse test={checkWords(c)} />}
          </Row>
        );
      })}
    </Panel>
  );
}

function Pair({ pair, harness }: { pair: ProofPair; harness: Harness }) {
  const { job } = useJobContext();
  const { words, icon: Icon } = OUTCOME[pair.outcome];
  const cautions = cautionsFor({ kind: "reading", quantity: "volts", state: pair.state, loadAmps: pair.before.amps }, harness);
  return (
    <Panel>
      <Row style={{ justifyContent: "space-between" }}>
        <h2>
          {pair.before.fromPlace} to {pair.before.toPlace}
        </h2>
        <Faint>
          {pair.load}, {describeState(pair.state, harness)}
        </Faint>
      </Row>
      <Outcome data-outcome={pair.outcome} role="status">
        <Icon size={20} aria-hidden /> {words}
      </Outcome>
      {pair.loadedBy === undefined ? null : <Faint>Under current: {pair.loadedBy}.</Faint>}
      {pair.excuse === undefined ? null : <Faint>Cannot be repeated: {pair.excuse}.</Faint>}
      {pair.outcome === "proven" ? null : <Cautions cautions={cautions} />}
      <Columns>
        <Side name="Before" drop={pair.before.dropVolts} sound={pair.before.soundDropVolts} limit={pair.before.limitVolts} />
        <Side name="After" drop={pair.after?.dropVolts} sound={pair.after?.soundDropVolts} limit={pair.after?.limitVolts} />
      </Columns>
      <Readings pair={pair} harness={harness} />
      {pair.outcome === "proven" || pair.outcome === "excused" || job.view.closed !== undefined ? null : (
        <Row>
          <Excuse test={pairWords(pair)} />
        </Row>
      )}
      {pair.outcome === "proven" ? <ToShelf pair={pair} /> : null}
      <StaircaseView harness={harness} trace={pair.beforeTrace} height={210} scale="ends" selected={undefined} />
      {pair.afterTrace === undefined ? null : (
        <StaircaseView harness={harness} trace={pair.afterTrace} height={210} scale="ends" selected={undefined} />
      )}
    </Panel>
  );
}

/** What the repaired vehicle shows is what a good one shows: one tap puts both readings on the shop's shelf. */
function ToShelf({ pair }: { pair: ProofPair }) {
  const { job } = useJobContext();
  const put = usePutOnShelf(job.view);
  const there = useShelfOf(job.view);
  const found = pair.readings.flatMap(({ after }) =>
    after === undefined || after.data.shown.kind !== "value"
      ? []
      : [
          {
            leads: after.data.leads,
            state: after.data.state,
            instrument: after.data.meter?.name ?? after.data.instrument,
            value: after.data.shown.value,
            note: "",
          },
        ],
  );
  if (put === undefined || found.length === 0) return null;
  const isThere = found.every((f) =>
    there.some((t) => t.jobId === job.id && leadsKey(t.leads) === leadsKey(f.leads) && t.value === f.value),
  );
  return (
    <Row>
      {isThere ? (
        <Faint>These readings are on the shelf of known-goods.</Faint>
      ) : (
        <Button onPress={() => void put(found)}>
          <Archive size={18} aria-hidden /> Put on the shelf of known-goods
        </Button>
      )}
    </Row>
  );
}

const Figure = styled.div`
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: var(--s2) var(--s3);
  strong {
    display: block;
    font-size: 1.75rem;
    line-height: 1.2;
  }
`;

/** One side of the pair in figures: the drop, and what it should be. V. */
function Side({
  name,
  drop,
  sound,
  limit,
}: {
  name: string;
  drop: number | undefined;
  sound: number | undefined;
  limit: number | undefined;
}) {
  return (
    <Figure>
      {name}
      <strong>{drop === undefined ? "not measured yet" : formatVolts(drop)}</strong>
      {sound === undefined ? null : (
        <Faint>
          expected {formatVolts(sound)}
          {limit === undefined ? "" : `, limit ${formatVolts(limit)}`}
        </Faint>
      )}
    </Figure>
  );
}

/** The readings that made the failed test, each with its repetition or a field for it. */
function Readings({ pair, harness }: { pair: ProofPair; harness: Harness }) {
  const { job } = useJobContext();
  const now = trayInModel(harness, job.view);
  const asBefore = stateKey({ ...pair.state, ...now }) === stateKey(pair.state);
  return (
    <>
      {asBefore ? null : (
        <Notice tone="caution" title="Not in the same state">
          When the test failed: {describeState(pair.state, harness)}. By the tray it is now:{" "}
          {describeState({ ...pair.state, ...now }, harness)}. Bring the vehicle into the same state first.
        </Notice>
      )}
      <Table>
        <caption>
          <Hidden>Readings before and after</Hidden>
        </caption>
        <thead>
          <tr>
            <th scope="col">Leads</th>
            <th scope="col" className="n">
              Before
            </th>
            <th scope="col">After</th>
          </tr>
        </thead>
        <tbody>
          {pair.readings.map((r) => (
            <tr key={r.before.id}>
              <th scope="row" style={{ whiteSpace: "normal" }}>
                {describeLeads(r.before.data.leads)}
              </th>
              <td className="n">{r.before.data.text}</td>
              <td>
                {r.after === undefined ? (
                  <Repeat {...r.before.data} isDisabled={!asBefore || job.view.closed !== undefined} />
                ) : (
                  <span style={{ fontFamily: "var(--mono)" }}>{r.after.data.text}</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
