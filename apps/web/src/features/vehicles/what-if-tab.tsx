import { useState } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { SupposedHere } from "@rheonom/core/practice";
import { TOOLS, type Tool } from "@rheonom/contract/practice";
import { WhatIf } from "../../explore/what-if.tsx";
import { useBeginPractice } from "../../job/begin-practice.tsx";
import { Button, Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { useVehicle } from "./vehicle-context.ts";

/** A vehicle with faults that are supposed, and a practice job for somebody with just these. */
export function WhatIfTab() {
  const { id, harness, options, state } = useVehicle();
  return (
    <WhatIf
      harness={harness}
      state={{ ...state, on: [] }}
      after={(supposed, at, isNoticed) => <Assign vehicle={id} options={options} supposed={supposed} state={at} isNoticed={isNoticed} />}
    />
  );
}

const ADVICE = [
  { id: "off", text: "Off" },
  { id: "asked", text: "On request" },
  { id: "on", text: "On" },
] as const;

/** When what is supposed is there. */
const THERE = [
  { id: "always", text: "all the time", as: {} },
  { id: "sometimes", text: "sometimes, and while its spot is moved", as: { presence: 0.4 } },
  { id: "rarely", text: "rarely, and while its spot is moved", as: { presence: 0.1 } },
  { id: "after 5", text: "after 5 min of tests", as: { afterMinutes: 5 } },
  { id: "after 15", text: "after 15 min of tests", as: { afterMinutes: 15 } },
] as const;

interface AssignProps {
  readonly vehicle: string;
  readonly options: readonly string[];
  readonly supposed: readonly SupposedHere[];
  readonly state: VehicleState;
  readonly isNoticed: boolean;
}

/** Makes a practice job of what is supposed. */
function Assign({ vehicle, options, supposed, state, isNoticed }: AssignProps) {
  const { begin, isBusy, beside } = useBeginPractice();
  const [words, setWords] = useState("");
  const [whose, setWhose] = useState("");
  const [until, setUntil] = useState("");
  const [without, setWithout] = useState<readonly Tool[]>([]);
  const [there, setThere] = useState<string>(THERE[0].id);
  const [advice, setAdvice] = useState<(typeof ADVICE)[number]["id"]>("asked");
  const make = (): void =>
    begin({
      vehicle: { from: "shop", id: vehicle },
      faults: {
        options: [...options],
        supposed: [...supposed],
        state,
        words,
        whose,
        until,
        ...(THERE.find((t) => t.id === there)?.as ?? {}),
      },
      advice,
      without: [...without],
    });
  return (
    <Panel aria-label="Make a practice job of it">
      <h2>Make a practice job of it</h2>
      {isNoticed ? null : (
        <Notice tone="caution">Nobody would notice it in this state. Set the state in which it shows, or choose a worse degree.</Notice>
      )}
      <Field
        label="What the customer says"
        value={words}
        onChange={setWords}
        placeholder="Left empty: made from what fails"
        maxLength={600}
      />
      <Row>
        <Field label="For whom" value={whose} onChange={setWhose} placeholder="a trainee’s name" maxLength={80} />
        <Field label="Until (2026-12-24)" value={until} onChange={setUntil} placeholder="any day" maxLength={10} />
      </Row>
      <Row>
        <Select label="Fault present" inline value={there} onChange={setThere} options={THERE} />
        <Segmented label="Advice" value={advice} onChange={setAdvice} options={ADVICE} />
      </Row>
      <Row role="group" aria-label="May not be used">
        <strong>Without</strong>
        {TOOLS.map((tool) => (
          <Toggle
            key={tool}
            isSelected={without.includes(tool)}
            onChange={(on) => setWithout(on ? [...without, tool] : without.filter((t) => t !== tool))}
          >
            {tool}
          </Toggle>
        ))}
      </Row>
      <Row>
        <Button look="solid" isDisabled={isBusy || !isNoticed} onPress={make}>
          Make the job
        </Button>
        <Faint>What is wrong stays hidden until the job is closed.</Faint>
      </Row>
      {beside}
    </Panel>
  );
}
