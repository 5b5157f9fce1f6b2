import { useMemo, useState } from "react";
import { styled } from "styled-components";
import { askableParts, sharedNodes } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import { useNavigate } from "react-router";
import { partWords } from "../../explore/part-words.ts";
import { useVehicle } from "./vehicle-context.ts";

const Grid = styled.div`
  display: grid;
  grid-template-columns: 380px minmax(0, 1fr);
  gap: var(--s3);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Parts = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: calc(100dvh - 360px);
  min-height: 260px;
  overflow: auto;
  li {
    display: flex;
    align-items: center;
    gap: var(--s2);
    border-bottom: 1px solid var(--line);
  }
  li > span {
    flex: 1;
    min-width: 0;
  }
`;
const Mark = styled.button<{ $tone: "fails" | "works" }>`
  all: unset;
  box-sizing: border-box;
  min-width: 64px;
  min-height: var(--target);
  display: inline-flex;
  align-items: center;
  justify-content: center;
  cursor: pointer;
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  margin: 3px 0;
  &[aria-pressed="true"] {
    background: ${(p) => (p.$tone === "fails" ? "var(--suspect)" : "var(--accent)")};
    color: ${(p) => (p.$tone === "fails" ? "var(--surface)" : "var(--on-accent)")};
    font-weight: 680;
  }
  &:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: 1px;
  }
`;
const MOST_SHOWN = 14;

/** What do the failing items share that the working ones do not? */
export function SharedTab() {
  const { harness, query, ask } = useVehicle();
  const navigate = useNavigate();
  const [find, setFind] = useState("");
  const parts = useMemo(() => askableParts(harness), [harness]);
  const named = (name: string): string[] => (query.get(name) ?? "").split(",").filter((p) => parts.includes(p));
  const [fails, works] = [named("fails"), named("works")];
  const nodes = useMemo(() => {
    const list = (name: string): string[] => (query.get(name) ?? "").split(",").filter((p) => parts.includes(p));
    return list("fails").length === 0 ? [] : sharedNodes(harness, list("fails"), list("works"));
  }, [harness, parts, query]);
  const set = (id: string, kind: "fails" | "works"): void => {
    const toggled = (own: string[], mine: boolean): string | undefined =>
      (mine ? (own.includes(id) ? own.filter((x) => x !== id) : [...own, id]) : own.filter((x) => x !== id)).join(",") || undefined;
    ask({ fails: toggled(fails, kind === "fails"), works: toggled(works, kind === "works") });
  };
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = parts.filter((p) => words.every((w) => partWords(harness, p).toLowerCase().includes(w)));
  const order = [...shown].sort((p, q) => Number(fails.includes(q) || works.includes(q)) - Number(fails.includes(p) || works.includes(p)));
  return (
    <Grid>
      <Panel style={{ padding: "var(--s3)" }}>
        <Row style={{ alignItems: "end" }}>
          <Field label="Mark what fails and what works" value={find} onChange={setFind} placeholder="lamp, sensor, L13" grow />
          {fails.length + works.length > 0 ? <Button onPress={() => ask({ fails: undefined, works: undefined })}>Clear</Button> : null}
        </Row>
        <Parts aria-label="Parts">
          {order.map((p) => (
            <li key={p}>
              <span>{partWords(harness, p)}</span>
              <Mark type="button" $tone="fails" aria-pressed={fails.includes(p)} aria-label={`${p} fails`} onClick={() => set(p, "fails")}>
                fails
              </Mark>
              <Mark type="button" $tone="works" aria-pressed={works.includes(p)} aria-label={`${p} works`} onClick={() => set(p, "works")}>
                works
              </Mark>
            </li>
          ))}
        </Parts>
      </Panel>
      <Panel style={{ padding: "var(--s3)" }} aria-live="polite">
        {fails.length === 0 ? (
          <p style={{ margin: 0 }}>Mark at least one part that fails. Marking what works narrows the most.</p>
        ) : nodes.length === 0 ? (
          <p style={{ margin: 0 }}>
            These share nothing but the battery. Two faults, or something that they have in common outside the wiring.
          </p>
        ) : (
          <>
            <div style={{ overflowX: "auto" }}>
              <Table>
                <caption>
                  <Hidden>Shared nodes, best first</Hidden>
                </caption>
                <thead>
                  <tr>
                    <th scope="col">Shared</th>
                    <th scope="col">Side</th>
                    <th scope="col" className="n">
                      Covers
                    </th>
                    <th scope="col">Speaks against</th>
                    <th scope="col">Also on it: look at these</th>
                  </tr>
                </thead>
                <tbody>
                  {nodes.slice(0, MOST_SHOWN).map((n) => (
                    <tr key={`${n.kind} ${n.id}`}>
                      <td>
                        <strong>{n.words}</strong>
                      </td>
                      <td>{n.side}</td>
                      <td className="n">
                        {n.failing.length} of {fails.length}
                      </td>
                      <td>{n.working.length === 0 ? <Faint>nothing</Faint> : n.working.join(", ")}</td>
                      <td>
                        {n.others.slice(0, 6).join(", ")}
                        {n.others.length > 6 ? ` and ${n.others.length - 6} more` : ""}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </div>
            {nodes.length > MOST_SHOWN ? <Faint>{nodes.length - MOST_SHOWN} more share something, less well.</Faint> : null}
            <Row>
              <Button
                onPress={() =>
                  void navigate(
                    {
                      pathname: "../circuit",
                      search: new URLSearchParams(
                        [...query].filter(([k]) => k === "v" || k === "o").concat([["of", fails.join("+")]]),
                      ).toString(),
                    },
                    { relative: "path" },
                  )
                }
              >
                Draw what fails together
              </Button>
            </Row>
          </>
        )}
      </Panel>
    </Grid>
  );
}
