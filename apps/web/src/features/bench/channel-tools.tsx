import { styled } from "styled-components";
import type { Measures, Shown } from "@rheonom/core/waveform";
import { Button, Toggle } from "../../ui/button.tsx";
import { Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import type { TraceShape } from "./bench.worker.ts";
import { scaled } from "./scope-model.ts";

const Tools = styled.details`
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
  }
`;
const CORNERS = [0, 1, 10, 50, 100, 500, 1000, 5000, 10_000, 100_000];

export interface ChannelToolsProps {
  readonly shape: TraceShape;
  readonly shown: readonly Shown[];
  /** Between the cursors, as they are shown. */
  readonly measures: readonly (Measures | undefined)[];
  readonly onShow: (channel: number, how: Shown) => void;
}

/** How each channel is shown; what is kept stays as it was recorded. */
export function ChannelTools({ shape, shown, measures, onShow }: ChannelToolsProps) {
  const changed = shown.filter((s) => s.isInverted || s.zero !== 0 || s.lowPassHz !== undefined).length;
  return (
    <Tools>
      <summary>Invert, zero, low-pass{changed === 0 ? "" : ` (${changed} changed)`}</summary>
      {shape.channels.map((c, i) => {
        const how = shown[i]!;
        const mean = measures[i]?.mean;
        return (
          <Row key={i} role="group" aria-label={`How channel ${i + 1} is shown`}>
            <strong style={{ width: "9rem", overflow: "hidden", textOverflow: "ellipsis" }}>
              {i + 1} {c.name}
            </strong>
            <Toggle
              isSelected={how.isInverted}
              // What was taken off is taken off the other way round, so that zero stays where it is.
              onChange={(isInverted) => onShow(i, { ...how, isInverted, zero: -how.zero })}
            >
              Invert
            </Toggle>
            <Button isDisabled={mean === undefined} onPress={() => onShow(i, { ...how, zero: how.zero + mean! })}>
              Zero between the cursors
            </Button>
            {how.zero === 0 ? null : (
              <Button look="quiet" onPress={() => onShow(i, { ...how, zero: 0 })}>
                Zero as it was
              </Button>
            )}
            <Select
              label={`Low-pass of channel ${i + 1}`}
              hideLabel
              inline
              options={CORNERS.filter((f) => f < shape.rateHz / 4).map((f) => ({
                id: String(f),
                text: f === 0 ? "no low-pass" : `below ${scaled(f, "Hz")}`,
              }))}
              value={String(how.lowPassHz ?? 0)}
              onChange={(f) => onShow(i, { ...how, lowPassHz: f === "0" ? undefined : Number(f) })}
            />
          </Row>
        );
      })}
    </Tools>
  );
}
