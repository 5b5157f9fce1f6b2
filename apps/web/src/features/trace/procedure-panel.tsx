import { useMemo, useState } from "react";
import { Check, CircleAlert, CircleDashed, Minus } from "lucide-react";
import { styled } from "styled-components";
import type { StepView } from "@rheonom/core/procedures";
import type { Harness } from "@rheonom/core/harness";
import { evidenceOf, isAdvised, type JobView } from "@rheonom/core/job";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import type { OfferShown } from "../../worker/queries.ts";
import { useQuery } from "../../worker/use-query.ts";
import { DoTest, type Hands } from "./do-test.tsx";

const Stack = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s3);
`;
const Steps = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  & > li {
    display: grid;
    grid-template-columns: 24px minmax(0, 1fr);
    gap: var(--s1) var(--s2);
    padding: var(--s2) 0;
    border-bottom: 1px solid var(--line);
  }
  & > li[data-status="left out"],
  & > li[data-status="later"] {
    color: var(--ink-2);
  }
  & > li[data-status="next"] {
    border-left: 6px solid var(--accent);
    padding-left: var(--s2);
  }
`;

export interface ProcedurePanelProps {
  readonly harness: Harness;
  readonly view: JobView;
  readonly hands: Hands;
  /** Complained of, then suspected, likeliest first. */
  readonly suspects: readonly string[];
  readonly focus: readonly string[];
  readonly isDisabled: boolean;
  /** Procedure and target that are open, and how to open others. */
  readonly open: { readonly id: string; readonly target: string } | undefined;
  readonly onOpen: (id: string | undefined, target: string) => void;
}

const EVERYTHING = {} as const;

/** The trade's tests, step by step on this vehicle. What was found fills the steps, whoever asked for it. */
export function ProcedurePanel(props: ProcedurePanelProps) {
  const { harness, view, suspects, focus, open, onOpen } = props;
  const offers = useQuery("offers", harness, EVERYTHING);
  const advised = useQuery("suggestions", harness, isAdvised(view) ? { focus, suspects, intermittent: view.presence < 1 } : undefined);
  if (offers.value === undefined) return <p role="status">Looking through the tests …</p>;
  const offer = offers.value.find((o) => o.id === open?.id);
  if (offer !== undefined && open !== undefined)
    return (
      <Walk
        key={`${open.id} ${open.target}`}
        {...props}
        offer={offer}
        target={offer.targets.some((t) => t.element === open.target) ? open.target : offer.targets[0]!.element}
      />
    );
  return (
    <Stack>
      {(advised.value ?? []).length === 0 ? null : (
        <Row aria-label="Tests that suit">
          <Faint>Suggested for this complaint:</Faint>
          {(advised.value ?? []).map((a) => (
            <Button key={`${a.id} ${a.target}`} look="solid" onPress={() => onOpen(a.id, a.target)}>
              {a.words}
            </Button>
          ))}
        </Row>
      )}
      <Row aria-label="All tests">
        {offers.value.map((o) => (
          <Button key={o.id} onPress={() => onOpen(o.id, o.targets[0]!.element)}>
            {o.name}
          </Button>
        ))}
      </Row>
    </Stack>
  );
}

function Walk({ harness, view, hands, isDisabled, onOpen, offer, target }: ProcedurePanelProps & { offer: OfferShown; target: string }) {
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>({});
  const { state } = hands;
  const evidence = useMemo(() => evidenceOf(view), [view]);
  const shown = useQuery("procedure", harness, { id: offer.id, target, chosen, state, rules: view.rules, evidence });
  const value = shown.value;
  return (
    <Stack>
      <Row style={{ justifyContent: "space-between" }}>
        <strong>{offer.name}</strong>
        <Button onPress={() => onOpen(undefined, "")}>All tests</Button>
      </Row>
      <Faint>{offer.asks}</Faint>
      <Row>
        <Select
          label="On"
          inline
          value={target}
          onChange={(t) => onOpen(offer.id, t)}
          options={offer.targets.map((t) => ({ id: t.element, text: t.words }))}
        />
        {offer.choices.map((c) => (
          <Segmented
            key={c.id}
            label={c.asks}
            value={chosen[c.id] ?? c.usual}
            onChange={(o) => setChosen({ ...chosen, [c.id]: o })}
            options={c.options.map((o) => ({ id: o.id, text: o.words }))}
          />
        ))}
      </Row>
      {offer.choices.map((c) => (
        <Faint key={c.id}>{c.options.find((o) => o.id === (chosen[c.id] ?? c.usual))?.why}</Faint>
      ))}
      {offer.cautions.map((c) => (
        <Notice key={c} tone="caution">
          {c} The manufacturer’s procedure and local rules come first.
        </Notice>
      ))}
      {shown.failed === undefined ? null : <Notice tone="danger">{shown.failed}</Notice>}
      {value === undefined ? <p role="status">Computing what each step must show …</p> : null}
      {value?.verdict === undefined ? null : (
        <Notice
          tone={value.verdict.sound ? "info" : "caution"}
          title={value.verdict.sound ? "Sound" : value.verdict.points.slice(0, 6).join(", ")}
        >
          {value.verdict.words}
          {value.undo.length === 0 ? null : <div>Still to put back: {value.undo.join("; ")}.</div>}
        </Notice>
      )}
      <Steps aria-label={`Steps of ${offer.name}`}>
        {value?.steps.map((s) => (
          <li key={s.id} data-status={s.status}>
            <Mark step={s} />
            <div>
              <div>
                {s.does}
                {s.shown === undefined ? "" : `: ${s.shown}`}
              </div>
              {s.status === "left out" ? (
                <Faint>Not needed after earlier results.</Faint>
              ) : (
                <Faint>
                  {expectedLead(s)}
                  {s.expected}
                  {s.because === undefined || s.status === "later" ? "" : `. ${s.because}`}
                </Faint>
              )}
              {s.refusals.map((r) => (
                <Notice key={r.rule + r.at} tone="danger" title="Do not test this way">
                  {r.reason} Instead: {r.instead}
                </Notice>
              ))}
              {s.status === "next" && !isDisabled ? (
                <>
                  <div>
                    <Faint>
                      {s.leads}; {s.state}; about {s.minutes.toFixed(1)} min.
                    </Faint>
                  </div>
                  {s.cautions.map((c) => (
                    <Notice key={c} tone="caution">
                      {c}
                    </Notice>
                  ))}
                  <DoTest test={s.test} hands={hands} />
                </>
              ) : null}
            </div>
          </li>
        ))}
      </Steps>
      {value !== undefined && value.steps.length === 0 ? <Faint>Nothing here that it could be done on.</Faint> : null}
    </Stack>
  );
}

/** How the sentence begins that ends with what a step should show. */
function expectedLead({ status, grade, test }: StepView): string {
  if (status === "done") return grade === "bad" ? "Expected: " : "As expected: ";
  return test.observe.kind === "part" ? "Should be " : test.observe.kind === "check" ? "Expected: " : "Should show ";
}

function Mark({ step }: { step: StepView }) {
  if (step.grade === "good") return <Check size={20} aria-label="good" style={{ color: "var(--ok)" }} />;
  if (step.grade === "bad") return <CircleAlert size={20} aria-label="bad" style={{ color: "var(--suspect)" }} />;
  if (step.status === "left out") return <Minus size={20} aria-label="left out" />;
  return <CircleDashed size={20} aria-label={step.status} />;
}
