import { styled } from "styled-components";
import { describeLink, describePlace, linksOf, type Harness, type PlaceId } from "@rheonom/core/harness";
import type { Prediction } from "@rheonom/core/instruments";
import { formatAmps, formatVolts } from "@rheonom/core/quantity";
import { Button } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";

const Box = styled.section`
  border-top: 1px solid var(--line);
  padding: var(--s2) var(--s3);
  display: grid;
  gap: var(--s1);
  font-size: 0.9375rem;
`;

export interface SelectionPanelProps {
  readonly harness: Harness;
  /** A place or a link. */
  readonly selected: string | undefined;
  readonly sound: Prediction | undefined;
  /** Measured potential of a place against battery negative, V. */
  readonly measured: ReadonlyMap<string, number>;
  readonly onAcross: (red: PlaceId, black: PlaceId) => void;
}

/** What is selected: what it is, where, what it should read and what was read. */
export function SelectionPanel({ harness, selected, sound, measured, onAcross }: SelectionPanelProps) {
  if (selected === undefined) {
    return (
      <Box>
        <Faint>Tap a dot to put the lead there; tap a wire or part to see what it is.</Faint>
      </Box>
    );
  }
  const link = linksOf(harness).find((l) => l.id === selected);
  const owner = harness.components.find((c) => c.id === selected.split(".")[0]);
  const where = owner?.at === undefined ? "" : `, ${owner.at}`;
  if (link === undefined) {
    const place = selected as PlaceId;
    const volts = sound?.volts.get(place);
    const read = measured.get(place);
    return (
      <Box aria-label="Selected">
        <strong>
          {selected}: {describePlace(harness, place)}
          {where}
        </strong>
        <span>
          sound {volts === undefined ? "floats in this state" : formatVolts(volts)}
          {read === undefined ? "" : `, measured ${formatVolts(read)}`}
        </span>
      </Box>
    );
  }
  const amps = sound?.amps.get(link.id) ?? 0;
  const [from, to] = amps < 0 ? [link.b, link.a] : [link.a, link.b];
  const high = sound?.volts.get(from);
  const low = sound?.volts.get(to);
  return (
    <Box aria-label="Selected">
      <strong>
        {describeLink(harness, link)}
        {where}
      </strong>
      <span>
        sound: {formatAmps(Math.abs(amps))}
        {high === undefined || low === undefined ? "" : `, drops ${formatVolts(high - low)}`}
      </span>
      <span>
        <Button onPress={() => onAcross(from, to)}>Leads across it</Button>
      </span>
    </Box>
  );
}
