import { useEffect, useState } from "react";
import { styled } from "styled-components";
import { REST_STATE } from "@rheonom/core/circuit";
import { batteryNegative, batteryPositive } from "@rheonom/core/harness";
import { steadiness } from "@rheonom/core/instruments";
import { meterCheckFails, meterCheckWords, type EventOf } from "@rheonom/core/job";
import type { InstrumentLine, InstrumentState } from "../../job/instrument/instrument-line.ts";
import { meterText } from "../../job/instrument/live-reading.ts";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

const Shown = styled.output`
  font-family: var(--mono);
  font-size: 2rem;
  font-weight: 640;
`;

type Part = "leads" | "posts";
type Check = EventOf<"meter-checked">["data"];
const PARTS = {
  leads: { mode: "ohms", words: "Hold both leads together", short: "Leads together" },
  posts: { mode: "volts", words: "Red on the battery’s positive post, black on its negative post", short: "Battery posts" },
} as const;
const NOMINAL_VOLTS = 12;

/** A meter tried before it is trusted: leads held together, and on both battery posts. What it shows when it stands still counts. */
export function MeterTest({ line, now }: { line: InstrumentLine; now: InstrumentState }) {
  const { job, record, harness } = useJobContext();
  const [part, setPart] = useState<Part | undefined>(undefined);
  const last = job.view.meterChecks.findLast((c) => c.struck === undefined && c.data.meter === now.name)?.data;
  const begin = (next: Part): void => {
    setPart(next);
    line.turn(PARTS[next].mode);
    line.moveLeads(
      [
        next === "leads" || harness === undefined
          ? { on: "each other" }
          : { on: "places", red: batteryPositive(harness), black: batteryNegative(harness) },
      ],
      REST_STATE,
    );
  };
  useEffect(() => () => line.turn(undefined), [line]);
  const shown = part === undefined ? undefined : steadiness(now.samples, PARTS[part].mode);
  const lastSaid = now.said;
  const keep = (): void => {
    if (part === undefined || shown?.kind !== "steady") return;
    const value = shown.value;
    const before: Partial<Check> = last ?? {};
    const data: Check = {
      ...(before.leadsOhms === undefined ? {} : { leadsOhms: before.leadsOhms }),
      ...(before.postVolts === undefined ? {} : { postVolts: before.postVolts }),
      ...(part === "leads" ? { leadsOhms: value === Infinity ? "over" : value } : value === Infinity ? {} : { postVolts: value }),
      meter: now.name,
      nominalVolts: harness?.nominalVolts ?? NOMINAL_VOLTS,
    };
    record({ type: "meter-checked", data });
    line.turn(undefined);
    setPart(undefined);
  };
  const text =
    lastSaid === undefined
      ? "…"
      : lastSaid.kind === "value"
        ? meterText(PARTS[part ?? "posts"].mode, lastSaid.value)
        : lastSaid.kind === "over"
          ? "OL"
          : lastSaid.kind === "odd"
            ? lastSaid.text
            : "no reading";
  const fails = last === undefined ? [] : meterCheckFails(last);
  return (
    <div role="group" aria-label="The meter’s test">
      <Row>
        <strong>Self-test</strong>
        {(["leads", "posts"] as const).map((p) => (
          <Button key={p} look={part === p ? "solid" : "plain"} onPress={() => begin(p)}>
            {PARTS[p].short}
          </Button>
        ))}
        {fails.length > 0 ? null : <Faint>{meterCheckWords(last)}</Faint>}
      </Row>
      {part === undefined ? null : (
        <Row>
          <span>{PARTS[part].words}.</span>
          <Shown aria-live="off">{text}</Shown>
          <Button look="solid" isDisabled={shown?.kind !== "steady"} onPress={keep}>
            {shown?.kind === "steady" ? "Record" : "Not steady yet"}
          </Button>
        </Row>
      )}
      {fails.length === 0 ? null : (
        <Notice tone="danger" role="alert" title="The meter is not to be trusted">
          {fails.join("; ")}. Put it right and test it again; readings with it are marked.
        </Notice>
      )}
    </div>
  );
}
