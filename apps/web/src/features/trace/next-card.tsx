import type { Ref } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import { describeChange, describeState, openedWord, type VehicleState } from "@rheonom/core/circuit";
import { coloursAt, inWords, type CaseAnswer } from "@rheonom/core/diagnosis";
import { describePlace, type Harness } from "@rheonom/core/harness";
import { TriangleAlert } from "lucide-react";
import { Button, buttonLink } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";
import type { Asking, Diagnosing } from "../../worker/use-diagnosis.ts";
import { DoTest, type Hands } from "./do-test.tsx";
import type { Proposed } from "./trace-model.ts";
import { WhyTest } from "./why-test.tsx";

const Card = styled.section`
  border: 1px solid var(--line-strong);
  border-left: 6px solid var(--accent);
  border-radius: var(--radius);
  padding: var(--s2) var(--s3);
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s3);
  justify-content: space-between;
  /* Always as high, so that nothing below it moves under the finger. */
  height: 164px;
  overflow: auto;
  align-content: start;
  @media (max-width: 900px) {
    height: auto;
    min-height: 152px;
  }
  background: var(--surface);
`;
const Says = styled.div`
  flex: 1 1 520px;
  display: grid;
  gap: 2px;
  align-content: start;
`;
const Does = styled.div<{ $isWide: boolean }>`
  flex: ${(p) => (p.$isWide ? "1 1 100%" : "0 1 auto")};
  & > div {
    justify-content: ${(p) => (p.$isWide ? "start" : "end")};
    ${(p) => (p.$isWide ? "" : "flex-direction: column; align-items: stretch;")}
  }
`;
const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 var(--s3);
`;
/** What can be asked of the proposal, out of the way of the hand that answers it. */
const Others = styled.span`
  margin-left: auto;
  display: flex;
  gap: var(--s2);
`;
const Line = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--s3);
`;
const Leads = styled.dl`
  margin: 0;
  display: grid;
  grid-template-columns: auto auto minmax(0, 1fr);
  gap: 0 var(--s2);
  align-items: baseline;
  dt {
    font-weight: 640;
  }
  dd {
    margin: 0;
  }
  dd:nth-of-type(odd) {
    font-family: var(--mono);
    font-size: 1.125rem;
    font-weight: 700;
  }
`;
const Big = styled.strong`
  font-size: 1.125rem;
`;
const Warn = styled.details`
  color: var(--caution);
  summary {
    cursor: pointer;
    font-weight: 640;
    min-height: 24px;
  }
`;

const On = styled(Link)`
  ${buttonLink}
  align-self: start;
`;

export interface NextCardProps {
  readonly harness: Harness;
  readonly proposals: readonly Proposed[];
  readonly diagnosing: Diagnosing;
  readonly question: Asking | undefined;
  /** While nothing was found yet: the load in question, and a state in which a good one works. */
  readonly begin: { readonly load: string; readonly state: VehicleState | undefined } | undefined;
  /** What is to be done once nothing more has to be measured. */
  readonly enough: CaseAnswer["enoughToAct"] | undefined;
  readonly jobId: string;
  readonly at: number;
  readonly onAnother: () => void;
  readonly hands: Hands;
  readonly onTake: () => void;
  readonly words: Ref<HTMLDivElement>;
}

/** The one next test, as it is read at arm's length. */
export function NextCard(props: NextCardProps) {
  const { harness, proposals, diagnosing, question, begin, enough, jobId, at, onAnother, hands, onTake, words } = props;
  const proposed = proposals[at];
  const { busy, choosing, better, failed } = diagnosing;
  if (enough !== undefined)
    return (
      <Card aria-label="Next test">
        <Says>
          <Big>
            Next: {enough.act === "renew" ? "replace" : "repair"} {enough.element}
          </Big>
          <span>{enough.how === null ? "" : `${enough.how.charAt(0).toUpperCase()}${enough.how.slice(1)}.`}</span>
          <Faint>No further test is needed. What supports it stands below.</Faint>
        </Says>
        <On to={`/jobs/${jobId}/mend?at=${encodeURIComponent(enough.element ?? "")}`}>Go to Repair</On>
      </Card>
    );
  // What was proposed before the latest finding is no proposal any more.
  if (failed === undefined && busy && !better)
    return (
      <Card aria-label="Next test" aria-busy>
        <Head role="status">
          <Big>Next</Big> <Faint>{choosing ? "Choosing the next test …" : "Ranking suspects …"}</Faint>
          <Button onPress={diagnosing.stop}>Stop</Button>
        </Head>
      </Card>
    );
  if (proposed === undefined && begin !== undefined)
    return (
      <Card aria-label="Next test">
        <Says>
          <Big>Next: reproduce the fault</Big>
          <span>Record below what {begin.load} does in the state in which it fails, or take a reading.</span>
        </Says>
        {begin.state === undefined || describeState(begin.state) === describeState(hands.state) ? null : (
          <Button look="solid" onPress={() => hands.onPrepare(begin.state!)}>
            Vehicle set: {describeChange(hands.state, begin.state, harness)}
          </Button>
        )}
      </Card>
    );
  if (proposed === undefined)
    return (
      <Card aria-label="Next test">
        <Faint>No safe test with these instruments separates these suspects. Look at each, and say what you see.</Faint>
      </Card>
    );
  return <Ready key={proposed.words} {...{ harness, jobId, proposals, proposed, question, hands, onTake, onAnother, words, better }} />;
}

interface ReadyProps extends Pick<
  NextCardProps,
  "harness" | "jobId" | "proposals" | "question" | "hands" | "onTake" | "onAnother" | "words"
> {
  readonly proposed: Proposed;
  readonly better: boolean;
}

function Ready({ harness, jobId, proposals, proposed, question, hands, onTake, onAnother, words, better }: ReadyProps) {
  const { test } = proposed;
  const { observe: o } = test;
  const isReady = describeState(test.state) === describeState(hands.state);
  const changed = changedWords(test.state, harness);
  const isScope = o.kind === "level" || o.kind === "duty";
  const [red, black] = isScope || o.kind === "volts" || o.kind === "ohms" || o.kind === "lamp" ? [o.red, o.black] : [undefined, undefined];
  const instrument = o.kind === "level" ? `scope, ${o.which} level` : INSTRUMENT[o.kind];
  const isMeter = o.kind === "volts" || o.kind === "ohms" || o.kind === "amps";
  const asked = askedWords(harness, proposed);
  return (
    <Card aria-label="Next test">
      <Says>
        <Head>
          <Big>{red === undefined ? `Next: ${asked}` : `Next${instrument === undefined ? "" : `: ${instrument}`}`}</Big>
          {proposed.minutes === undefined ? <Faint>on this path</Faint> : <Faint>{proposed.minutes} min</Faint>}
          {proposed.access.length === 0 ? null : <Faint>{proposed.access.join("; ")}</Faint>}
          {better ? <Faint role="status">Checking for better tests …</Faint> : null}
          <Others>
            {isScope && red !== undefined && black !== undefined ? (
              <On
                to={`/jobs/${jobId}/bench?${new URLSearchParams({ red, black }).toString()}`}
                onClick={() => isReady || hands.onPrepare(test.state)}
              >
                {isReady ? "" : "State is so, "}
                {isReady ? "Capture on the Bench" : "capture on the Bench"}
              </On>
            ) : null}
            {question === undefined || proposed.expected === undefined ? null : (
              <WhyTest harness={harness} question={question} test={test} />
            )}
            {proposals.length > 1 ? <Button onPress={onAnother}>Another test ({proposals.length})</Button> : null}
          </Others>
        </Head>
        {red === undefined ? null : (
          <Leads aria-label={proposed.words}>
            <Place harness={harness} lead="red" at={red} />
            <Place harness={harness} lead="black" at={black} />
          </Leads>
        )}
        {isReady && changed !== "" ? <Faint>{changed}</Faint> : null}
        <Line>
          {isReady ? null : (
            <span>
              <strong>First:</strong> {describeChange(hands.state, test.state, hands.harness)}
            </span>
          )}
          {proposed.expected === undefined ? null : (
            <Faint>
              expected <strong>{inWords(proposed.expected.sound)}</strong>
              {proposed.expected.suspects.map((s) => `; ${s.element}: ${inWords(s.shows)}`)}
            </Faint>
          )}
        </Line>
        {proposed.cautions.length === 0 ? null : (
          <Warn>
            <summary>
              <TriangleAlert size={16} aria-hidden /> {proposed.cautions[0]}
            </summary>
            {[...proposed.cautions.slice(1), "The manufacturer’s procedure and local rules come first."].join(" ")}
          </Warn>
        )}
      </Says>
      <Does ref={words} $isWide={!isMeter}>
        <DoTest test={test} hands={hands} onTake={onTake} />
      </Does>
    </Card>
  );
}

/** What is asked where no leads are put. */
function askedWords(harness: Harness, { test: { observe: o }, words, expected }: Proposed): string {
  if (o.kind !== "part") return words;
  return expected?.sound === "none"
    ? `is ${partText(harness, o.part)} off, as it should be in this state?`
    : `does ${partText(harness, o.part)} work?`;
}

/** What is fitted, pulled or unplugged for a test, so that it is not taken off too early. */
function changedWords({ bridged, lamps = [], opened }: VehicleState, harness: Harness): string {
  return [
    ...bridged.map(([p, q]) => `with the fused lead from ${p} to ${q}`),
    ...lamps.map(([p, q]) => `with the lamp from ${p} to ${q}`),
    ...opened.map((id) => `${id} ${openedWord(harness, id)}`),
  ].join(", ");
}

const partText = (harness: Harness, id: string): string => {
  const label = harness.components.find((c) => c.id === id)?.label;
  return label === undefined ? id : `${id} (${label})`;
};

const INSTRUMENT: Readonly<Record<string, string | undefined>> = { volts: "volts", ohms: "ohms", lamp: "test lamp", duty: "scope, duty" };

function Place({ harness, lead, at }: { harness: Harness; lead: string; at: string | undefined }) {
  if (at === undefined) return null;
  const colours = coloursAt(harness, at).join(", ");
  return (
    <>
      <dt>{lead}</dt>
      <dd>{at}</dd>
      <dd>
        {describePlace(harness, at)}
        {colours === "" ? "" : `, ${colours}`}
      </dd>
    </>
  );
}
