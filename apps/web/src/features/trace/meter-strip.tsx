import { styled } from "styled-components";
import type { Leads } from "@rheonom/core/instruments";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import type { MeterAtHand } from "../../job/instrument/use-meter.ts";
import { Toggle } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";

const Strip = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--s1) var(--s3);
`;
const Shown = styled.output`
  font-family: var(--mono);
  font-size: 1.25rem;
  font-weight: 640;
  min-width: 9ch;
  text-align: right;
`;
const FORMAT = { volts: formatVolts, ohms: formatOhms, amps: formatAmps } as const;

/** What the connected meter shows, whether it stands still, and how it is taken. */
export function MeterStrip({ meter, quantity }: { meter: MeterAtHand; quantity: Leads["quantity"] }) {
  const { live, says, takesSteady, setTakesSteady, foot } = meter;
  const { steadiness } = live;
  const format = FORMAT[quantity];
  return (
    <Strip role="group" aria-label="Connected meter">
      {/* Not read out: it changes several times a second. */}
      <Shown aria-label={`${meter.name} shows`} aria-live="off">
        {live.text}
      </Shown>
      <Faint style={{ minWidth: "12ch" }}>
        {steadiness.kind === "steady"
          ? "steady"
          : steadiness.kind === "unsteady"
            ? `${format(steadiness.low)} to ${Number.isFinite(steadiness.high) ? format(steadiness.high) : "OL"}`
            : "…"}
      </Faint>
      <Toggle isSelected={takesSteady} onChange={setTakesSteady}>
        Record when steady
      </Toggle>
      <Faint>{foot === "" ? "Enter records it" : `Enter or the foot switch (${foot === " " ? "space" : foot}) records it`}</Faint>
      {says === "" ? null : <strong>The meter says: {says}</strong>}
    </Strip>
  );
}
