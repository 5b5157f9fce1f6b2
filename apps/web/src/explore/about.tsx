import {
  describeLink,
  describePlace,
  linkOf,
  lookupOf,
  neighboursOf,
  partOfPlace,
  placesOfComponent,
  type Harness,
} from "@rheonom/core/harness";
import { formatVolts } from "@rheonom/core/quantity";
import { reachWords } from "../drawing/reach-words.ts";
import { Where } from "../drawing/where.tsx";
import { Button } from "../ui/button.tsx";
import { Faint, Panel, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";

export interface AboutProps {
  readonly harness: Harness;
  /** A part, wire, cavity or place. */
  readonly selected: string | undefined;
  readonly volts: ReadonlyMap<string, number | undefined>;
  readonly isAbsent: boolean;
  readonly onShow: (ids: readonly string[]) => void;
}

/** What is selected: what it is, where, how to get at it, what it should read. */
export function About({ harness, selected, volts, isAbsent, onShow }: AboutProps) {
  if (selected === undefined) return null;
  const link = linkOf(harness, selected);
  const wire = lookupOf(harness).wires.get(selected);
  const part = lookupOf(harness).parts.get(selected) ?? partOfPlace(harness, selected);
  const zone = harness.zones?.find((z) => z.id === part?.zone);
  const title =
    wire !== undefined && link !== undefined
      ? describeLink(harness, link)
      : part === undefined
        ? selected
        : describeWhole(harness, selected, link);
  const places =
    wire !== undefined && link !== undefined
      ? [link.a, link.b]
      : link !== undefined
        ? [link.a, link.b]
        : part?.id === selected
          ? placesOfComponent(harness, part)
          : [selected];
  const beside = wire === undefined ? [] : neighboursOf(harness, wire.id);
  return (
    <Panel style={{ padding: "var(--s3)" }} aria-label="Selected">
      <strong>{title}</strong>
      {isAbsent ? <Notice tone="info">Not on this vehicle with these options.</Notice> : null}
      {zone?.outOfBounds === undefined ? null : (
        <Notice tone="danger" title="Out of bounds">
          {zone.outOfBounds}
        </Notice>
      )}
      {reachWords(harness, selected).map((line) => (
        <Faint key={line}>{line}</Faint>
      ))}
      <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
        {places.slice(0, 10).map((p) => (
          <li key={p}>
            {p}: {volts.get(p) === undefined ? "floats" : formatVolts(volts.get(p)!)}
          </li>
        ))}
        {places.length > 10 ? <li>and {places.length - 10} more</li> : null}
      </ul>
      {beside.length === 0 ? null : (
        <Faint>
          Runs beside {beside.length} {beside.length === 1 ? "wire" : "wires"}:{" "}
          {beside
            .slice(0, 8)
            .map((b) => `${b.wire.id} ${b.wire.colour ?? ""}`)
            .join(", ")}
          {beside.length > 8 ? " …" : ""}
        </Faint>
      )}
      <Where harness={harness} selected={selected} red={undefined} black={undefined} hands={undefined} />
      <Row>
        <Button onPress={() => onShow([wire?.id ?? (part?.kind === "device" ? selected : (part?.id ?? selected))])}>
          Draw what hangs on it
        </Button>
      </Row>
    </Panel>
  );
}

function describeWhole(harness: Harness, selected: string, link: ReturnType<typeof linkOf>): string {
  const part = lookupOf(harness).parts.get(selected);
  if (link !== undefined && part === undefined) return describeLink(harness, link);
  if (part !== undefined) return [part.id, part.label, part.kind === "device" ? part.device : part.kind].filter(Boolean).join(", ");
  return describePlace(harness, selected);
}
