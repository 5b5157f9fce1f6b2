import { useState } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import type { CaseAnswer, ResultWord } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import type { Diagnosing } from "../../worker/use-diagnosis.ts";
import { DoTest, type Hands } from "./do-test.tsx";

const Card = styled.div`
  border: 1px solid var(--line-strong);
  border-left: 6px solid var(--accent);
  border-radius: var(--radius);
  padding: var(--s3);
  display: flex;
  flex-direction: column;
  gap: var(--s2);
`;
const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  details {
    border-bottom: 1px solid var(--line);
  }
  summary {
    min-height: var(--target);
    display: grid;
    grid-template-columns: 4.5rem minmax(0, 1fr) auto;
    gap: var(--s2);
    align-items: center;
    cursor: pointer;
  }
  summary:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: -3px;
  }
  summary > b {
    font-variant-numeric: tabular-nums;
    text-align: right;
  }
  ul {
    margin: 0 0 var(--s2) 4.5rem;
    padding-left: var(--s4);
  }
`;

/** How much of the belief a thing holds; never rounded up to certainty. */
const percent = (p: number): string => (p > 0.995 ? "> 99 %" : p < 0.01 ? "< 1 %" : `${Math.round(100 * p)} %`);

export interface SuspectsPanelProps {
  readonly harness: Harness;
  readonly jobId: string;
  /** Parts that can be looked at here, the one in question first. */
  readonly parts: readonly string[];
  /** Whether a sound part takes current in this state; undefined while that is not known. */
  readonly runs: (part: string) => boolean | undefined;
  readonly diagnosing: Diagnosing;
  readonly isDisabled: boolean;
  readonly hands: Hands;
  /** Share of the time that the trouble is there. */
  readonly presence: number;
  readonly onPresence: (share: number) => void;
}

/** What is left of all suspects, why, what to do next, and whether it is enough to act. */
export function SuspectsPanel(props: SuspectsPanelProps) {
  const { jobId, diagnosing, isDisabled } = props;
  const { answer, busy, choosing, better, stopped, failed, stop } = diagnosing;
  return (
    <Panel aria-label="What is left" aria-busy={busy} style={{ padding: "var(--s3)", gap: "var(--s2)" }}>
      <Row style={{ justifyContent: "space-between" }}>
        <h2 style={{ margin: 0 }}>What is left</h2>
        {busy ? (
          <Row role="status">
            <Faint>
              {choosing
                ? "Working out where to measure next …"
                : better
                  ? "Looking further: rarer faults, better tests …"
                  : "Weighing every suspect …"}
            </Faint>
            <Button onPress={stop}>Stop</Button>
          </Row>
        ) : stopped ? (
          <Faint>Stopped. The next finding starts it again.</Faint>
        ) : null}
      </Row>
      {isDisabled ? null : <Seen {...props} />}
      {failed === undefined ? null : <Notice tone="danger">{failed}</Notice>}
      {answer === undefined ? (
        busy ? (
          <div style={{ minHeight: "24rem" }} />
        ) : (
          <Faint>Say what the part in question does, or take a reading: from then on every suspect is weighed.</Faint>
        )
      ) : (
        <>
          {answer.notAsked.map((n) => (
            <Notice key={n.part} tone="caution" title={`${n.part} is not asked to do anything`}>
              {n.words}
            </Notice>
          ))}
          <Verdict answer={answer} jobId={jobId} />
          {/* What does not fit comes before the next test, which goes by what is drawn. */}
          {answer.misfit === null ? null : <Notice tone="caution">{answer.misfit}</Notice>}
          {/* Its place is kept while it is worked out, so that what lies below stays under the finger. */}
          {answer.enoughToAct.yes || isDisabled ? null : choosing ? (
            <div style={{ minHeight: "8rem" }} />
          ) : (
            <Next {...props} answer={answer} />
          )}
          {[...answer.questioned, ...answer.references].map((x) => (
            <Notice key={x.words} tone="caution">
              {x.words}
            </Notice>
          ))}
          {answer.overheating.map((o) => (
            <Notice key={o.part} tone="danger" title={`${o.part} may be held on`}>
              {o.words}
            </Notice>
          ))}
          {answer.ownDoing.map((o) => (
            <Notice key={o.code} tone="info" title={`${o.code} is our own doing`}>
              It is set because of {o.because.join(", ")}. Undo that, clear it, and see whether it stays away.
            </Notice>
          ))}
          {answer.refused.map((r) => (
            <Notice key={r.evidence + r.reason} tone="danger" title="Not in this way">
              {r.reason} Instead: {r.instead}
            </Notice>
          ))}
          <Suspects answer={answer} />
          <Discarded answer={answer} />
        </>
      )}
    </Panel>
  );
}

/** How much of the time the trouble is there, in words. */
const PRESENCE = { always: 1, often: 0.7, "now and then": 0.3, seldom: 0.1 } as const;
type PresenceWord = keyof typeof PRESENCE;
const PRESENCE_WORDS = (Object.keys(PRESENCE) as PresenceWord[]).map((id) => ({ id, text: id }));
const presenceOf = (share: number): PresenceWord => PRESENCE_WORDS.find((p) => PRESENCE[p.id] <= share)?.id ?? "seldom";

/** What is seen, said in one tap. */
function Seen({ harness, parts, runs, hands, presence, onPresence }: SuspectsPanelProps) {
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  const part = chosen !== undefined && parts.includes(chosen) ? chosen : parts[0];
  if (part === undefined) return null;
  const label = (id: string): string => [id, harness.components.find((c) => c.id === id)?.label].filter(Boolean).join(" ");
  const idle = runs(part) === false;
  const say = (word: ResultWord, wrong: boolean): void =>
    hands.onSeen({ state: hands.state, observe: { kind: "part", part }, word, wrong });
  return (
    <Row>
      <Select label="In this state" inline value={part} onChange={setChosen} options={parts.map((id) => ({ id, text: label(id) }))} />
      {idle ? (
        <>
          <Button onPress={() => say("full", true)}>runs unasked</Button>
          <Button onPress={() => say("stuck", true)}>is stuck</Button>
          <Faint>A sound one does nothing in this state either. Set key, engine and switches as they are when it fails.</Faint>
        </>
      ) : (
        <>
          <Button onPress={() => say("none", true)}>is dead</Button>
          <Button onPress={() => say("weak", true)}>is weak</Button>
          <Button onPress={() => say("too much", true)}>too much</Button>
          <Button onPress={() => say("flickers", true)}>comes and goes</Button>
          <Button onPress={() => say("full", false)}>works</Button>
        </>
      )}
      <Select
        label="It is there"
        inline
        value={presenceOf(presence)}
        onChange={(id) => onPresence(PRESENCE[id])}
        options={PRESENCE_WORDS}
      />
    </Row>
  );
}

/** What it costs to act now and be wrong. */
function wrongWords({ ifWrong: w, element }: CaseAnswer["enoughToAct"]): string {
  if (w === null || w.chance < 0.002) return "";
  const lost = `${w.minutes} minutes${w.part ? " and a part" : ""} for nothing`;
  return `If it is not ${element} (${percent(w.chance)}): ${lost}${w.instead === null ? "" : `; then most likely ${w.instead}`}.`;
}

function Verdict({ answer, jobId }: { answer: CaseAnswer; jobId: string }) {
  const { enoughToAct: e } = answer;
  if (e.element === null) return null;
  if (e.yes)
    return (
      <Notice tone="info" title={`Enough to ${e.act} ${e.element}: ${percent(e.probability)}`}>
        {e.how === null || e.how === "" ? "" : `${e.how.charAt(0).toUpperCase()}${e.how.slice(1)}. `}
        {wrongWords(e)} What speaks for it stands below. <Link to={`/jobs/${jobId}/mend`}>Go to the mend</Link>
      </Notice>
    );
  if (e.probability < 0.5) return null;
  return (
    <Notice tone="caution" title={e.act === "renew" ? `No new ${e.element} yet` : `Not yet enough to mend ${e.element}`}>
      {e.missing.map((m) => (
        <div key={m.words}>{m.words}.</div>
      ))}
      <div>{wrongWords(e)}</div>
    </Notice>
  );
}

function Next({ answer, hands }: SuspectsPanelProps & { answer: CaseAnswer }) {
  const [at, setAt] = useState(0);
  const test = answer.next[Math.min(at, answer.next.length - 1)];
  if (test === undefined)
    return <Faint>No safe test with these instruments tells these suspects apart. Look at each, and say what you see.</Faint>;
  return (
    <Card>
      <div>
        <strong>Next:</strong> {test.words}
      </div>
      <Faint>
        {test.minutes} min. Sound: {test.expected.sound}
        {test.expected.suspects.map((s) => `; ${s.element}: ${s.shows}`)}
      </Faint>
      {test.access.length === 0 ? null : <Faint>{test.access.join("; ")}.</Faint>}
      {test.cautions.length === 0 ? null : (
        <Notice tone="caution">{[...test.cautions, "The maker’s procedure and local rules come first."].join(" ")}</Notice>
      )}
      <DoTest test={test} hands={hands}>
        {answer.next.length > 1 ? (
          <Button onPress={() => setAt((at + 1) % answer.next.length)}>Another test ({answer.next.length})</Button>
        ) : null}
      </DoTest>
    </Card>
  );
}

const SHOWN = 6;

function Suspects({ answer }: { answer: CaseAnswer }) {
  return (
    <List aria-label="Suspects">
      {answer.suspects.slice(0, SHOWN).map((s) => (
        <li key={s.element}>
          <details>
            <summary>
              <b>{percent(s.probability)}</b>
              <span>
                {s.words}
                {s.severity === null || s.words.includes(s.severity) ? "" : `, ${s.severity}`}
              </span>
              <Faint>why</Faint>
            </summary>
            <ul>
              {s.with === undefined ? null : <li>one fault alone does not explain it; supposed besides: {s.with}</li>}
              {s.for.map((r) => (
                <li key={`for ${r.evidence}`}>
                  for it: {r.words}: {r.measured}, it predicts {r.predicted}
                </li>
              ))}
              {s.against.map((r) => (
                <li key={`against ${r.evidence}`}>
                  against it: {r.words}: {r.measured}, it predicts {r.predicted}
                </li>
              ))}
              {s.for.length + s.against.length === 0 ? <li>Nothing found so far tells it from the rest.</li> : null}
            </ul>
          </details>
        </li>
      ))}
      {answer.suspects.length > SHOWN ? (
        <li>
          <Faint>and {answer.suspects.length - SHOWN} less likely ones</Faint>
        </li>
      ) : null}
    </List>
  );
}

function Discarded({ answer }: { answer: CaseAnswer }) {
  if (answer.discarded.length === 0) return null;
  return (
    <List>
      <li>
        <details>
          <summary>
            <b>{answer.discarded.length}</b>
            <span>put out by what was found</span>
            <Faint>by what</Faint>
          </summary>
          <ul>
            {answer.discarded.slice(0, 60).map((x) => (
              <li key={x.element}>
                {x.element}: {x.reason.words}: {x.reason.measured}, it predicts {x.reason.predicted}
              </li>
            ))}
          </ul>
        </details>
      </li>
    </List>
  );
}
