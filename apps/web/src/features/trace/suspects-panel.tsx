import { useState } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import { inWords, type CaseAnswer, type ResultWord } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { SimilarCases } from "../../job/similar-cases.tsx";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";
import { percent } from "../../ui/percent.ts";
import { ShareBar } from "../../ui/share.tsx";
import type { Diagnosing } from "../../worker/use-diagnosis.ts";
import type { Hands } from "./do-test.tsx";
import { Tight } from "./trace-layout.ts";

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  details {
    border-bottom: 1px solid var(--line);
  }
  summary {
    min-height: 32px;
    display: grid;
    grid-template-columns: 3.5rem 84px minmax(0, 1fr) auto;
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

export interface SuspectsPanelProps {
  readonly harness: Harness;
  readonly jobId: string;
  /** Parts that can be looked at here, the one in question first. */
  readonly parts: readonly string[];
  /** Whether a sound part takes current in this state; undefined while that is not known. */
  readonly runs: (part: string) => boolean | undefined;
  readonly diagnosing: Diagnosing;
  /** The tool says what it thinks. */
  readonly isAdvised: boolean;
  readonly isDisabled: boolean;
  readonly hands: Hands;
  /** Share of the time that the trouble is there. */
  readonly presence: number;
  readonly onPresence: (share: number) => void;
}

/** The suspects, why, and whether it is enough to act. */
export function SuspectsPanel(props: SuspectsPanelProps) {
  const { jobId, diagnosing, isAdvised, isDisabled } = props;
  const { answer, busy, better, stopped, failed } = diagnosing;
  return (
    <Tight aria-label="Suspects" aria-busy={busy} data-stale={busy && !better}>
      {failed === undefined ? null : <Notice tone="danger">{failed}</Notice>}
      {stopped ? <Faint>Stopped. The next finding starts it again.</Faint> : null}
      {answer === undefined ? (
        busy ? (
          <Faint role="status">Ranking suspects …</Faint>
        ) : !isAdvised ? null : (
          <Faint>Record what the part does, or take a reading, to rank the suspects.</Faint>
        )
      ) : (
        <>
          {answer.notAsked.map((n) => (
            <Notice key={n.part} tone="caution" title={`${n.part} is not asked to do anything`}>
              {n.words}
            </Notice>
          ))}
          {answer.enoughToAct.yes ? <Verdict answer={answer} jobId={jobId} /> : null}
          {answer.misfit === null ? null : <Notice tone="caution">{answer.misfit}</Notice>}
          <Suspects answer={answer} isStale={busy && !better} />
          {answer.enoughToAct.yes ? null : <Verdict answer={answer} jobId={jobId} />}
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
            <Notice key={o.code} tone="info" title={`${o.code} was set by our own work`}>
              It is set because of {o.because.join(", ")}. Put that back, clear the code and check that it does not return.
            </Notice>
          ))}
          {answer.refused.map((r) => (
            <Notice key={r.evidence + r.reason} tone="danger" title="Do not test this way">
              {r.reason} Instead: {r.instead}
            </Notice>
          ))}
          <Discarded answer={answer} />
        </>
      )}
      {isAdvised ? <SimilarCases /> : null}
      {isDisabled ? null : <Seen {...props} />}
    </Tight>
  );
}

/** How much of the time the trouble is there, in words. */
const PRESENCE = { always: 1, often: 0.7, sometimes: 0.3, rarely: 0.1 } as const;
type PresenceWord = keyof typeof PRESENCE;
const PRESENCE_WORDS = (Object.keys(PRESENCE) as PresenceWord[]).map((id) => ({ id, text: id }));
const presenceOf = (share: number): PresenceWord => PRESENCE_WORDS.find((p) => PRESENCE[p.id] <= share)?.id ?? "rarely";

/** What is seen, said in one tap. */
function Seen({ harness, parts, runs, hands, presence, onPresence }: SuspectsPanelProps) {
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  const [busy, setBusy] = useState(false);
  const part = chosen !== undefined && parts.includes(chosen) ? chosen : parts[0];
  if (part === undefined) return null;
  const label = (id: string): string => [id, harness.components.find((c) => c.id === id)?.label].filter(Boolean).join(" ");
  const idle = runs(part) === false;
  const { look } = hands;
  const lookNow = async (): Promise<void> => {
    setBusy(true);
    const message = await look?.(hands.state, { kind: "part", part }, !idle);
    setBusy(false);
    if (message !== undefined) toast(message);
  };
  const say = (word: ResultWord, wrong: boolean): void =>
    hands.onSeen({ state: hands.state, observe: { kind: "part", part }, word, wrong });
  return (
    <Row>
      <Select label="Observed" inline value={part} onChange={setChosen} options={parts.map((id) => ({ id, text: label(id) }))} />
      {idle ? (
        <>
          <Button onPress={() => say("full", true)}>Runs when it should be off</Button>
          <Button onPress={() => say("stuck", true)}>Stuck</Button>
          <Faint>The part should be off in this state. Set key, engine and switches as they are when it fails.</Faint>
        </>
      ) : (
        <>
          <Button onPress={() => say("none", true)}>Dead</Button>
          <Button onPress={() => say("weak", true)}>Weak</Button>
          <Button onPress={() => say("too much", true)}>Too much</Button>
          <Button onPress={() => say("flickers", true)}>Intermittent</Button>
          <Button onPress={() => say("full", false)}>Works</Button>
        </>
      )}
      {look === undefined ? null : (
        <Button onPress={() => void lookNow()} isDisabled={busy} aria-label={`Look what ${part} does`}>
          Look
        </Button>
      )}
      <Select
        label="Fault present"
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
  const lost = `${w.minutes} min${w.part ? " and a part" : ""} wasted`;
  return `If it is not ${element} (${percent(w.chance)}): ${lost}${w.instead === null ? "" : `; then most likely ${w.instead}`}.`;
}

function Verdict({ answer, jobId }: { answer: CaseAnswer; jobId: string }) {
  const { enoughToAct: e } = answer;
  if (e.element === null) return null;
  if (e.yes)
    return (
      <Notice tone="info" title={`Enough to ${e.act === "renew" ? "replace" : "repair"} ${e.element}: ${percent(e.probability)}`}>
        {e.how === null || e.how === "" ? "" : `${e.how.charAt(0).toUpperCase()}${e.how.slice(1)}. `}
        {wrongWords(e)} <Link to={`/jobs/${jobId}/mend?at=${encodeURIComponent(e.element ?? "")}`}>Go to Repair</Link>
      </Notice>
    );
  if (e.probability < 0.5) return null;
  return (
    <Notice tone="caution" title={e.act === "renew" ? `Do not replace ${e.element} yet` : `Not enough evidence to repair ${e.element}`}>
      {e.missing.map((m) => (
        <div key={m.words}>{m.words}.</div>
      ))}
      <div>{wrongWords(e)}</div>
    </Notice>
  );
}

const SHOWN = 6;

function Suspects({ answer, isStale }: { answer: CaseAnswer; isStale: boolean }) {
  return (
    <List aria-label={isStale ? "Suspects before the latest finding" : "Suspects"} style={isStale ? { opacity: 0.55 } : {}}>
      {answer.suspects.slice(0, SHOWN).map((s) => (
        <li key={s.element}>
          <details>
            <summary>
              <b>{percent(s.probability)}</b>
              <ShareBar $share={s.probability} />
              <span>
                {s.words}
                {s.severity === null || s.words.includes(s.severity) ? "" : `, ${s.severity}`}
              </span>
              <Faint>why</Faint>
            </summary>
            <ul>
              {s.with === undefined ? null : <li>one fault alone does not explain it; also assumed: {s.with}</li>}
              {s.for.map((r) => (
                <li key={`for ${r.evidence}`}>
                  supports: {r.words}: {inWords(r.measured)}, predicted {inWords(r.predicted)}
                </li>
              ))}
              {s.against.map((r) => (
                <li key={`against ${r.evidence}`}>
                  contradicts: {r.words}: {inWords(r.measured)}, predicted {inWords(r.predicted)}
                </li>
              ))}
              {s.background.map((words) => (
                <li key={words}>background: {words}</li>
              ))}
              {s.for.length + s.against.length === 0 ? <li>No finding yet separates it from the others.</li> : null}
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
            <span />
            <span>ruled out by findings</span>
            <Faint>why</Faint>
          </summary>
          <ul>
            {answer.discarded.slice(0, 60).map((x) => (
              <li key={x.element}>
                {x.element}: {x.reason.words}: {inWords(x.reason.measured)}, predicted {inWords(x.reason.predicted)}
              </li>
            ))}
          </ul>
        </details>
      </li>
    </List>
  );
}
