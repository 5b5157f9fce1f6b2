import { useState } from "react";
import { styled } from "styled-components";
import { useJobContext } from "../../job/job-context.ts";
import { NEIGHBOUR_VERDICTS } from "@rheonom/core/job";
import type { RepairPlan } from "@rheonom/core/repair";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 0 var(--s2);
    align-items: center;
    min-height: var(--target);
    border-bottom: 1px solid var(--line);
  }
  button {
    padding: 0 var(--s2);
  }
`;

/** Neighbours that are listed one by one at first; the others are called on. */
const FIRST = 8;
type Verdict = (typeof NEIGHBOUR_VERDICTS)[number];
/** How a verdict is said. */
const SAID: Readonly<Record<Verdict, string>> = { sound: "good", nicked: "nicked", mended: "repaired" };
/** One key a verdict, on any button of the wire. */
const KEYS: Readonly<Record<string, Verdict>> = { g: "sound", n: "nicked", r: "mended" };

/** The wires beside a damaged place, the most endangered first: each is sound, nicked or mended, by a tap or a key. */
export function NeighboursPanel({ at, neighbours }: { at: string; neighbours: RepairPlan["neighbours"] }) {
  const { job, record } = useJobContext();
  const [all, setAll] = useState(false);
  if (neighbours.length === 0) return null;
  const said = job.view.neighbours.find((n) => n.of === at);
  const told = new Map(said?.told.map((t) => [t.wire, t.verdict]));
  const open = neighbours.filter((n) => !told.has(n.wire));
  const tell = (wires: readonly string[], verdict: Verdict): void =>
    void record({ type: "neighbour-told", data: { of: at, wires: [...wires], verdict } });
  const isClosed = job.view.closed !== undefined;
  return (
    <Panel aria-label="Neighbours at risk">
      <h2>
        Neighbours at risk{" "}
        <Faint>
          {neighbours.length - open.length} of {neighbours.length} looked at
        </Faint>
      </h2>
      <Faint>
        On a wire’s buttons: <kbd>g</kbd> good, <kbd>n</kbd> nicked, <kbd>r</kbd> repaired, and on to the next.
      </Faint>
      <List>
        {(all ? neighbours : neighbours.slice(0, FIRST)).map((n) => (
          <li key={n.wire}>
            <span>
              <strong>{n.wire}</strong> {n.words}
              <br />
              <Faint>{n.why.join("; ")}</Faint>
            </span>
            <Row style={{ gap: 4, flexWrap: "nowrap" }}>
              {NEIGHBOUR_VERDICTS.map((v) => (
                <Button
                  key={v}
                  look={told.get(n.wire) === v ? "solid" : "plain"}
                  isDisabled={isClosed}
                  aria-label={`${n.wire} ${SAID[v]}`}
                  aria-pressed={told.get(n.wire) === v}
                  onPress={() => tell([n.wire], v)}
                  onKeyDown={(e) => {
                    const verdict = KEYS[e.key];
                    if (verdict === undefined) return e.continuePropagation();
                    tell([n.wire], verdict);
                    // On to the next wire, so that one key a wire is enough.
                    (e.target as Element).closest("li")?.nextElementSibling?.querySelector("button")?.focus();
                  }}
                >
                  {SAID[v]}
                </Button>
              ))}
            </Row>
          </li>
        ))}
      </List>
      <Row>
        {neighbours.length > FIRST ? <Button onPress={() => setAll(!all)}>{all ? "Fewer" : `All ${neighbours.length}`}</Button> : null}
        {open.length > 0 && !isClosed ? (
          <Button
            onPress={() =>
              tell(
                open.map((n) => n.wire),
                "sound",
              )
            }
          >
            The other {open.length} good
          </Button>
        ) : null}
      </Row>
      {open.length > 0 && !isClosed ? (
        <OneLineForm
          label="Not looked at, because"
          words="Leave them"
          initial={said?.left ?? ""}
          placeholder="behind the tank"
          maxLength={300}
          grow
          onSubmit={(why) => void record({ type: "neighbours-left", data: { of: at, why } })}
        />
      ) : null}
      {said?.left === undefined ? null : <Faint>The others stay unseen: {said.left}</Faint>}
    </Panel>
  );
}
