import { useState } from "react";
import { CircleCheck, CircleX } from "lucide-react";
import { styled } from "styled-components";
import { useDrillQuery } from "../../api/practice-api.ts";
import { failureOf } from "../../api/failure.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

const Question = styled.p`
  font-size: 1.125rem;
  max-width: 75ch;
`;
const Choices = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--s2);
  button {
    width: 100%;
    justify-content: start;
    text-align: left;
    white-space: normal;
    padding-block: var(--s2);
  }
`;
const Why = styled.div`
  display: flex;
  gap: var(--s2);
  align-items: center;
  padding: var(--s1) var(--s3);
  color: var(--ink-2);
  svg {
    flex: none;
    color: var(--ink);
  }
`;

const anySeed = (): number => Math.floor(Math.random() * 2 ** 31);

/** Questions of a minute, one after the other, each with its answer from the circuit. */
export function DrillPanel() {
  const [seed, setSeed] = useState(anySeed);
  const [taken, setTaken] = useState<number | undefined>(undefined);
  const [count, setCount] = useState({ right: 0, asked: 0 });
  const { currentData: data, error } = useDrillQuery({ seed });
  const next = (): void => {
    setTaken(undefined);
    setSeed(anySeed());
  };
  const take = (i: number): void => {
    if (taken !== undefined || data === undefined) return;
    setTaken(i);
    setCount({ right: count.right + (data.choices[i]!.isRight ? 1 : 0), asked: count.asked + 1 });
  };
  return (
    <Panel aria-label="Drill">
      <Row style={{ justifyContent: "space-between" }}>
        <h2>One minute</h2>
        <Faint role="status">{count.asked === 0 ? "" : `${count.right} of ${count.asked} right`}</Faint>
      </Row>
      {error !== undefined ? (
        <Notice tone="danger" role="alert">
          {failureOf(error).message}
        </Notice>
      ) : data === undefined ? (
        <p role="status">Making a question …</p>
      ) : (
        <>
          <Faint>{data.vehicle}</Faint>
          <Question>{data.question}</Question>
          <Choices>
            {data.choices.map((c, i) => (
              <li key={c.text}>
                <Button look={taken === i ? "solid" : "plain"} isDisabled={taken !== undefined && taken !== i} onPress={() => take(i)}>
                  {c.text}
                </Button>
                {taken === undefined ? null : (
                  <Why>
                    {c.isRight ? <CircleCheck size={20} aria-label="Right" /> : <CircleX size={20} aria-label="Wrong" />} {c.why}
                  </Why>
                )}
              </li>
            ))}
          </Choices>
        </>
      )}
      <Row style={{ marginTop: "var(--s3)" }}>
        <Button look={taken === undefined ? "plain" : "solid"} onPress={next}>
          {taken === undefined ? "Another question" : "Next question"}
        </Button>
      </Row>
    </Panel>
  );
}
