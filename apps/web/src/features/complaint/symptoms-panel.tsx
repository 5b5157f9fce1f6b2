import { useMemo, useState } from "react";
import { Link } from "react-router";
import { styled } from "styled-components";
import { Plus, X } from "lucide-react";
import { describeState, REST_STATE } from "@rheonom/core/circuit";
import type { CaseAnswer, ResultWord } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { askedOfJob, isAdvised, type JobView, type SymptomLine, type SymptomOffer } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { Button, buttonLink } from "../../ui/button.tsx";
import { Combo } from "../../ui/combo.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { percent } from "../../ui/percent.ts";
import { ShareBar } from "../../ui/share.tsx";
import { toast } from "../../ui/toast.tsx";
import { useDiagnosis, type Diagnosing } from "../../worker/use-diagnosis.ts";
import { session } from "../../worker/the-session.ts";
import { useQuery } from "../../worker/use-query.ts";
import { useAhead } from "./use-ahead.ts";

const Lines = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  li {
    display: flex;
    align-items: center;
    gap: var(--s2);
    min-height: var(--target);
    border-bottom: 1px solid var(--line);
  }
  li > span:last-of-type {
    flex: 1;
  }
`;
const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--s4);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Start = styled(Link)`
  ${buttonLink}
`;

/** What a part does, as it is said. */
const DOES: readonly { readonly id: string; readonly word: ResultWord; readonly wrong: boolean; readonly text: string }[] = [
  { id: "none", word: "none", wrong: true, text: "dead" },
  { id: "weak", word: "weak", wrong: true, text: "weak, dim, slow" },
  { id: "flickers", word: "flickers", wrong: true, text: "intermittent" },
  { id: "too much", word: "too much", wrong: true, text: "too much" },
  { id: "stuck", word: "stuck", wrong: true, text: "stuck" },
  { id: "unasked", word: "full", wrong: true, text: "runs when it should be off" },
  { id: "full", word: "full", wrong: false, text: "works" },
];
/** When a part does it: as soon as it should work, or only while the engine does something. */
const WHENS = [
  { id: "asked", text: "in use" },
  { id: "idling", text: "engine running" },
  { id: "cranking", text: "while cranking" },
] as const;
const WHOLE = "whole vehicle: ";

const keyOf = ({ lines }: SymptomOffer): string => lines.map((l) => l.part + l.word).join();
const doesText = (word: ResultWord | undefined, wrong: boolean): string =>
  DOES.find((d) => d.word === word && d.wrong === wrong)?.text ?? String(word);

/** Lines of the complaint that stand: what parts do, by whoever said so. */
const linesOf = (view: JobView) => view.seen.filter((s) => s.struck === undefined && s.data.observe.kind === "part");

/** Symptoms: part, what it does, when; offered from the customer's words. The first suspects and the first test stand beside them as soon as one does. */
export function SymptomsPanel({ harness, words }: { harness: Harness; words: string }) {
  const { job, record } = useJobContext();
  const [taking, setTaking] = useState(false);
  const lines = linesOf(job.view);
  const [named, setNamed] = useState("");
  const fromWords = useQuery("symptoms", harness, { words }).value ?? [];
  const ofWhole = useQuery("symptoms", harness, named === "" ? undefined : { words: named }).value ?? [];
  const offers = named === "" ? fromWords : [...ofWhole, ...fromWords.filter((o) => !ofWhole.some((w) => keyOf(w) === keyOf(o)))];
  useAhead(harness, job.view, lines.length === 0 ? offers[0] : undefined);
  const parts = useQuery("symptomParts", harness, {}).value ?? [];
  const wholes = useQuery("wholeSymptoms", harness, {}).value ?? [];
  const known = new Set(lines.map((s) => `${(s.data.observe as { part: string }).part} ${s.data.word}`));
  const take = async (taken: readonly Omit<SymptomLine, "label">[]): Promise<void> => {
    setTaking(true);
    try {
      for (const line of taken) {
        const state = await session.ask("symptomState", harness, line).answer;
        if (state === undefined) return;
        record({
          type: "seen",
          data: { state, observe: { kind: "part", part: line.part }, word: line.word, wrong: line.wrong, source: "customer" },
        });
      }
    } catch (error) {
      toast(`The symptom was not taken: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      setTaking(false);
    }
  };
  const contradicting = lines.filter((s) =>
    lines.some(
      (o) =>
        o !== s &&
        JSON.stringify(o.data.observe) === JSON.stringify(s.data.observe) &&
        describeState(o.data.state) === describeState(s.data.state) &&
        o.data.word !== s.data.word,
    ),
  );
  const closed = job.view.closed !== undefined;
  return (
    <Panel aria-label="Symptoms">
      <Halves>
        <div>
          <h2 style={{ margin: 0 }}>Symptoms</h2>
          {lines.length === 0 ? <Faint>No symptom yet. Take one from the customer’s words, or name part and symptom.</Faint> : null}
          <Lines aria-label="Symptom lines">
            {lines.map((s) => {
              const { part } = s.data.observe as { part: string };
              return (
                <li key={s.id}>
                  <span>
                    <strong>{[part, harness.components.find((c) => c.id === part)?.label].filter(Boolean).join(" ")}</strong>:{" "}
                    {doesText(s.data.word, s.data.wrong)} <Faint>{describeState(s.data.state, harness)}</Faint>
                  </span>
                  {closed ? null : (
                    <Button
                      look="quiet"
                      aria-label={`Strike ${part}`}
                      onPress={() => record({ type: "struck", data: { target: s.id, why: "not what was meant" } })}
                    >
                      <X size={18} aria-hidden />
                    </Button>
                  )}
                </li>
              );
            })}
          </Lines>
          {contradicting.length === 0 ? null : (
            <Notice tone="caution">
              Two lines say different things of one part in one state. Both are kept and weighed; strike the one that is wrong.
            </Notice>
          )}
          {closed ? null : (
            <>
              <Row role="group" aria-label="Offered from the words" style={{ marginTop: "var(--s2)" }}>
                {offers
                  .filter((o) => o.lines.some((l) => !known.has(`${l.part} ${l.word}`)))
                  .map((o) => (
                    <Button key={keyOf(o)} isDisabled={taking} onPress={() => void take(o.lines)}>
                      <Plus size={18} aria-hidden /> {o.lines.map((l) => [l.part, l.label].filter(Boolean).join(" ")).join(" and ")}:{" "}
                      {doesText(o.lines[0]!.word, o.lines[0]!.wrong)}
                    </Button>
                  ))}
              </Row>
              <AddLine parts={parts} wholes={wholes} isDisabled={taking} onAdd={(line) => void take([line])} onWhole={setNamed} />
            </>
          )}
        </div>
        <First harness={harness} />
      </Halves>
    </Panel>
  );
}

function AddLine({
  parts,
  wholes,
  isDisabled,
  onAdd,
  onWhole,
}: {
  parts: readonly { readonly id: string; readonly text: string }[];
  wholes: readonly string[];
  isDisabled: boolean;
  onAdd: (line: Omit<SymptomLine, "label">) => void;
  /** A symptom of the whole vehicle was named, from which lines are offered. */
  onWhole: (words: string) => void;
}) {
  const [text, setText] = useState("");
  const [part, setPart] = useState<string | undefined>(undefined);
  const [does, setDoes] = useState("none");
  const [when, setWhen] = useState<(typeof WHENS)[number]["id"]>("asked");
  const options = [...parts, ...wholes.map((w) => ({ id: WHOLE + w, text: WHOLE + w }))];
  const chosen =
    part ?? parts.find((p) => p.id.toLowerCase() === text.trim().toLowerCase() || p.text.toLowerCase() === text.trim().toLowerCase())?.id;
  const missing = text.trim() !== "" && !options.some((p) => p.text.toLowerCase().includes(text.trim().toLowerCase()));
  return (
    <Row style={{ alignItems: "start", marginTop: "var(--s2)" }}>
      <div style={{ flex: "1 1 150px" }}>
        <Combo
          label="Part"
          none="No such part."
          placeholder="horn, misfires …"
          options={options}
          text={text}
          onText={(t) => {
            setText(t);
            setPart(undefined);
          }}
          onChoose={(id) => {
            if (id.startsWith(WHOLE)) {
              onWhole(id.slice(WHOLE.length));
              return setText("");
            }
            setPart(id);
            setText(parts.find((p) => p.id === id)?.text ?? id);
          }}
          error={missing ? "This vehicle, with its options, has no such part." : undefined}
        />
      </div>
      <Select label="What it does" value={does} onChange={setDoes} options={DOES} />
      <Select label="When" value={when} onChange={setWhen} options={WHENS} />
      <Button
        style={{ alignSelf: "center", marginTop: "var(--s4)" }}
        isDisabled={isDisabled || chosen === undefined}
        onPress={() => {
          const { word, wrong } = DOES.find((d) => d.id === does)!;
          onAdd({ part: chosen!, word, wrong, ...(when === "asked" ? {} : { engine: when }) });
          setText("");
          setPart(undefined);
        }}
      >
        Add symptom
      </Button>
    </Row>
  );
}

const SHOWN = 5;

/** First suspects and the first test, as soon as anything is said. */
function First({ harness }: { harness: Harness }) {
  const { job } = useJobContext();
  const { view } = job;
  const wrong = view.seen.find((s) => s.struck === undefined && s.data.wrong);
  const part = wrong?.data.observe.kind === "part" ? wrong.data.observe.part : undefined;
  const state = wrong?.data.state ?? REST_STATE;
  const question = useMemo(
    () => (part === undefined || !isAdvised(view) ? undefined : askedOfJob(harness, view, part, state)),
    [harness, view, part, state],
  );
  const diagnosing = useDiagnosis(harness, question);
  if (!isAdvised(view))
    return (
      <Row>
        <Start to={`/jobs/${job.id}/trace${part === undefined ? "" : `?load=${part}`}`}>Start tracing</Start>
      </Row>
    );
  if (question === undefined)
    return (
      <div>
        <h2 style={{ margin: 0 }}>First suspects</h2>
        <Faint>They stand here as soon as one symptom does.</Faint>
      </div>
    );
  return (
    <div aria-label="First suspects" role="region" aria-busy={diagnosing.busy}>
      <h2 style={{ margin: 0 }}>First suspects</h2>
      <Ranking diagnosing={diagnosing} />
      <Row style={{ marginTop: "var(--s2)" }}>
        <Start to={`/jobs/${job.id}/trace?load=${part}`}>Start tracing</Start>
      </Row>
    </div>
  );
}

function Ranking({ diagnosing: { answer, busy, choosing, failed } }: { diagnosing: Diagnosing }) {
  if (failed !== undefined) return <Notice tone="danger">{failed}</Notice>;
  if (answer === undefined) return <p role="status">Ranking suspects …</p>;
  if (answer.notAsked.length > 0) return <Notice tone="caution">{answer.notAsked[0]!.words}</Notice>;
  return (
    <>
      <Lines aria-label="Ranking">
        {answer.suspects.slice(0, SHOWN).map((s) => (
          <li key={s.element}>
            <b style={{ width: "4rem", textAlign: "right" }}>{percent(s.probability)}</b>
            <ShareBar $share={s.probability} />
            <span>{s.words}</span>
          </li>
        ))}
      </Lines>
      {answer.suspects.length > SHOWN ? <Faint>and {answer.suspects.length - SHOWN} less likely ones</Faint> : null}
      {answer.misfit === null ? null : <Notice tone="caution">{answer.misfit}</Notice>}
      <FirstTest answer={answer} busy={busy || choosing} />
    </>
  );
}

function FirstTest({ answer, busy }: { answer: CaseAnswer; busy: boolean }) {
  const test = answer.next[0];
  if (test === undefined) return <p role="status">{busy ? "Choosing the first test …" : ""}</p>;
  return (
    <p>
      <strong>First test:</strong> {test.words} <Faint>({test.minutes} min)</Faint>
    </p>
  );
}
