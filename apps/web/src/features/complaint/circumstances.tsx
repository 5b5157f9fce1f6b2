import { useState } from "react";
import type { Circumstance } from "@rheonom/core/diagnosis";
import { CONDITIONS } from "../../job/circumstance-words.ts";
import { Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Columns, Faint, Row } from "../../ui/layout.tsx";

/** What is said in words becomes a list of names: parts, wires, plugs, looms. */
const namesIn = (text: string): readonly string[] => [...new Set(text.split(/[\s,;]+/).filter((w) => w !== "" && w.length <= 40))];

/** Circumstances that make some faults likelier before anything is measured, and what each of them raises. */
export function Circumstances({ value, onChange }: { value: readonly Circumstance[]; onChange: (value: Circumstance[]) => void }) {
  const has = (what: string): boolean => value.some((c) => c.kind === "condition" && c.what === what);
  const [worked, setWorked] = useState(() => value.flatMap((c) => (c.kind === "worked on" ? [c.at] : [])).join(", "));
  const [replaced, setReplaced] = useState(() => value.flatMap((c) => (c.kind === "replaced" ? [c.part] : [])).join(", "));
  const put = (kind: Circumstance["kind"], list: readonly Circumstance[]): void =>
    onChange([...value.filter((c) => c.kind !== kind), ...list]);
  const raised = CONDITIONS.filter((c) => has(c.what));
  return (
    <>
      <Row role="group" aria-label="It comes">
        <strong>It comes</strong>
        {CONDITIONS.map((c) => (
          <Toggle
            key={c.what}
            isSelected={has(c.what)}
            onChange={(on) =>
              put("condition", [
                ...value.filter((x) => x.kind === "condition" && x.what !== c.what),
                ...(on ? [{ kind: "condition" as const, what: c.what }] : []),
              ])
            }
          >
            {c.words}
          </Toggle>
        ))}
      </Row>
      <Faint>
        {raised.length === 0
          ? "What it comes with makes some places likelier before anything is measured."
          : `More likely: ${raised.map((c) => c.raises).join("; ")}.`}
      </Faint>
      <Columns>
        <Field
          label="Recently worked on"
          hint="Parts, wires, plugs or looms by their names: they are suspected more"
          value={worked}
          onChange={(text) => {
            setWorked(text);
            put(
              "worked on",
              namesIn(text).map((at) => ({ kind: "worked on", at })),
            );
          }}
        />
        <Field
          label="Already replaced, no change"
          hint="Parts by their names: they are suspected less"
          value={replaced}
          onChange={(text) => {
            setReplaced(text);
            put(
              "replaced",
              namesIn(text).map((part) => ({ kind: "replaced", part })),
            );
          }}
        />
      </Columns>
    </>
  );
}
