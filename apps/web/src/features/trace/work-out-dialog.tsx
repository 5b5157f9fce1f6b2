import { useMemo, useState } from "react";
import { format } from "date-fns";
import { Calculator } from "lucide-react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { displayText, type Prediction } from "@rheonom/core/instruments";
import { clampFacts, voltFacts, type ReadingView } from "@rheonom/core/job";
import { workOutsFor, type Facts, type WorkOut } from "@rheonom/core/repair";
import { Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import type { ReadingData } from "./reading-entry.tsx";

const One = styled.section`
  border-top: 1px solid var(--line);
  padding: var(--s3) 0;
  display: grid;
  gap: var(--s2);
`;
const Inputs = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: var(--s2) var(--s3);
  align-items: start;
`;
const Result = styled.output`
  font-size: 1.25rem;
  font-weight: 640;
`;

export interface WorkOutProps {
  readonly harness: Harness;
  readonly selected: string;
  readonly state: VehicleState;
  readonly readings: readonly ReadingView[];
  readonly sound: Prediction | undefined;
  /** Undefined when the job takes no more readings. */
  readonly onReading: ((data: Pick<ReadingData, "leads" | "text" | "shown" | "instrument">) => void) | undefined;
}

/** What can be worked out of what is selected: it begins from the circuit and what was measured, and goes back into it as a reading. */
export function WorkOutButton({ harness, selected, state, readings, sound, onReading }: WorkOutProps) {
  const [isOpen, setOpen] = useState(false);
  const found = useMemo(
    () => workOutsFor({ harness, facts: factsOf(readings, state), sound, temperatureC: state.temperatureC }, selected),
    [harness, readings, state, sound, selected],
  );
  if (found.length === 0) return null;
  return (
    <>
      <Button onPress={() => setOpen(true)}>
        <Calculator size={18} aria-hidden /> Work out
      </Button>
      <Dialog title={`Work out at ${selected}`} isOpen={isOpen} onClose={() => setOpen(false)}>
        {found.map((w) => (
          <Working
            key={`${selected} ${w.id}`}
            work={w}
            onReading={
              onReading === undefined
                ? undefined
                : (data) => {
                    onReading(data);
                    setOpen(false);
                  }
            }
          />
        ))}
        <Row style={{ justifyContent: "end" }}>
          <Button onPress={() => setOpen(false)}>Close</Button>
        </Row>
      </Dialog>
    </>
  );
}

/** A number with a point or a comma, of either sign; undefined for nothing, NaN for what is none. */
function numberIn(text: string): number | undefined {
  const bare = text.trim().replace(",", ".").replace("−", "-");
  return bare === "" ? undefined : Number(bare);
}

function Working({ work, onReading }: { work: WorkOut; onReading: WorkOutProps["onReading"] }) {
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const textOf = (id: string, value: number | undefined): string =>
    typed[id] ?? (value === undefined ? "" : String(Number(value.toPrecision(4))));
  const values = Object.fromEntries(work.known.map((k) => [k.id, numberIn(textOf(k.id, k.value))]));
  const done = work.work(values);
  const gives = typeof done === "object" ? done.gives : undefined;
  return (
    <One aria-label={work.title}>
      <h3>{work.title}</h3>
      <Inputs>
        {work.known.map((k) => (
          <Field
            key={k.id}
            label={`${k.words}, ${k.unit}`}
            hint={typed[k.id] === undefined ? k.from : "typed"}
            value={textOf(k.id, k.value)}
            onChange={(text) => setTyped({ ...typed, [k.id]: text })}
            error={Number.isNaN(values[k.id]) ? "A number, such as 0.44." : ""}
            mono
            maxLength={20}
          />
        ))}
      </Inputs>
      <Row>
        {done === undefined ? (
          <Faint>What is missing is typed here, or measured first.</Faint>
        ) : typeof done === "string" ? (
          <strong role="status">{done}</strong>
        ) : (
          <>
            <Result>{done.lines[0]}</Result>
            <Faint>{done.lines.slice(1).join("; ")}</Faint>
          </>
        )}
        {gives === undefined || onReading === undefined ? null : (
          <Button
            look="solid"
            onPress={() =>
              onReading({
                leads: gives.leads,
                text: displayText(gives.leads.quantity, gives.value).replace("ohm", "Ω"),
                shown: { kind: "value", quantity: gives.leads.quantity, value: gives.value },
                instrument: "worked out",
              })
            }
          >
            Record it
          </Button>
        )}
      </Row>
      <Faint>{work.formula}</Faint>
    </One>
  );
}

/** Readings of a state as what a calculation begins from: the last of each. */
function factsOf(readings: readonly ReadingView[], state: VehicleState): Facts {
  const [volts, clamps] = [voltFacts(readings, state), clampFacts(readings, state)];
  const when = (id: string): string => {
    const at = readings.find((r) => r.id === id)?.at;
    return at === undefined ? "measured" : `read ${format(new Date(at), "HH:mm")}`;
  };
  const direct = (red: string, black: string): { readonly value: number; readonly id: string } | undefined => {
    const hit = volts.findLast((f) => (f.red === red && f.black === black) || (f.red === black && f.black === red));
    return hit === undefined ? undefined : { id: hit.id, value: hit.red === red ? hit.volts : -hit.volts };
  };
  return {
    across: (red, black) => {
      const one = direct(red, black);
      if (one !== undefined) return { value: one.value, from: when(one.id) };
      // Both ends against the same point.
      for (const f of volts.toReversed()) {
        if (f.red !== red) continue;
        const other = volts.findLast((g) => g.red === black && g.black === f.black);
        if (other !== undefined) return { value: f.volts - other.volts, from: `${when(f.id)} and ${when(other.id).replace("read ", "")}` };
      }
      return undefined;
    },
    amps: (around) => {
      const hit = clamps.findLast((c) => c.around === around);
      return hit === undefined ? undefined : { value: hit.amps, from: `clamp, ${when(hit.id)}` };
    },
  };
}
