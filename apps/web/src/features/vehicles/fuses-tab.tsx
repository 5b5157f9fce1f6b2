import { useMemo, useState } from "react";
import { styled } from "styled-components";
import { ampsFromDrop, fuseMap, lookupOf, type FuseEntry } from "@rheonom/core/harness";
import { parseReading } from "@rheonom/core/instruments";
import { formatAmps, formatVolts } from "@rheonom/core/quantity";
import { Field } from "../../ui/field.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { useVehicle } from "./vehicle-context.ts";
import { ZoneMap } from "./zone-map.tsx";

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: var(--s3);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Sockets = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(148px, 1fr));
  gap: var(--s2);
`;
const Socket = styled.button`
  all: unset;
  box-sizing: border-box;
  min-height: 76px;
  padding: var(--s2);
  cursor: pointer;
  background: var(--field);
  border: 1px solid var(--line-strong);
  border-left: 8px solid var(--fuse, var(--line-strong));
  border-radius: var(--radius);
  display: flex;
  flex-direction: column;
  gap: 2px;
  font-size: 0.9375rem;
  &[aria-pressed="true"] {
    background: var(--accent-soft);
    border-color: var(--accent);
    border-left-color: var(--fuse, var(--accent));
  }
  &:hover {
    background: var(--accent-soft);
  }
  &:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: 1px;
  }
  span {
    color: var(--ink-2);
    font-size: 0.875rem;
  }
`;

/** Inks for the standard's colours of blade fuses; the words stand beside them. */
const INK: Readonly<Record<string, string>> = {
  black: "#222",
  grey: "#8d9296",
  violet: "#7d3fa6",
  pink: "#ee8fae",
  "light brown": "#c79a6b",
  brown: "#7a4a21",
  red: "#cf2a27",
  blue: "#2a5fc4",
  yellow: "#f2cf1d",
  clear: "#e8e8e4",
  green: "#2e8b3d",
  "blue-green": "#29b3b0",
  orange: "#ea7d1c",
};

/** Fuses and relays as they sit in their boxes, and the current that a drop tells. */
export function FusesTab() {
  const { harness, volts, query, ask } = useVehicle();
  const [find, setFind] = useState("");
  const [drop, setDrop] = useState("");
  const fuses = useMemo(() => fuseMap(harness), [harness]);
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const text = (f: FuseEntry): string =>
    [f.id, f.words, f.box, f.slot, ...f.serves.flatMap((s) => [s.id, s.words])].join(" ").toLowerCase();
  const zone = query.get("zone");
  const zoneOf = (part: string): string | undefined => lookupOf(harness).parts.get(part)?.zone;
  const shown = fuses.filter((f) => words.every((w) => text(f).includes(w)) && (zone === null || zoneOf(f.id) === zone));
  const boxes = [...new Set(shown.map((f) => f.box))];
  const chosen = fuses.find((f) => f.id === query.get("fuse"));
  return (
    <Grid>
      <Panel style={{ padding: "var(--s3)" }}>
        <Field label="Find by what it feeds" value={find} onChange={setFind} placeholder="wipers, F12, stop light" />
        <ZoneMap count={(z) => fuses.filter((f) => zoneOf(f.id) === z).length} of="fuses and relays" />
        {boxes.map((box) => (
          <section key={box}>
            <h2>{box === "" ? "No box said" : box}</h2>
            <Sockets>
              {shown
                .filter((f) => f.box === box)
                .map((f) => (
                  <Socket
                    key={f.id}
                    type="button"
                    aria-pressed={chosen?.id === f.id}
                    style={f.colour === undefined ? undefined : ({ "--fuse": INK[f.colour] } as React.CSSProperties)}
                    onClick={() => ask({ fuse: f.id })}
                  >
                    <strong>
                      {f.slot === "" ? "" : `${f.slot} · `}
                      {f.id}
                    </strong>
                    {f.ratingAmps === undefined ? "relay" : `${f.ratingAmps} A ${f.colour ?? ""}`}
                    <span>{f.words}</span>
                  </Socket>
                ))}
            </Sockets>
          </section>
        ))}
        {shown.length === 0 ? (
          <p>
            Nothing matches{find === "" ? "" : ` “${find}”`}
            {zone === null ? "" : ` in zone ${zone}`}.
          </p>
        ) : null}
      </Panel>
      <Panel style={{ padding: "var(--s3)" }} aria-label="Chosen">
        {chosen === undefined ? (
          <p style={{ margin: 0 }}>Tap a socket: what it feeds, where to put the leads, and what a drop over it means.</p>
        ) : (
          <>
            <h2>
              {chosen.id} {chosen.words}
            </h2>
            <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
              {chosen.testPoints.map((p) => (
                <li key={p}>
                  {p}: {volts.get(p) === undefined ? "floats in this state" : formatVolts(volts.get(p)!)}
                </li>
              ))}
            </ul>
            {chosen.kind === "fuse" ? <DropToCurrent fuse={chosen} drop={drop} onDrop={setDrop} /> : null}
            <div>
              <strong>Feeds</strong>
              {chosen.loadAmps > 0 ? <Faint> · rated loads {formatAmps(chosen.loadAmps)} together</Faint> : null}
              <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
                {chosen.serves.map((s) => (
                  <li key={s.id}>
                    {s.id} {s.words}
                  </li>
                ))}
              </ul>
            </div>
          </>
        )}
      </Panel>
    </Grid>
  );
}

function DropToCurrent({ fuse, drop, onDrop }: { fuse: FuseEntry; drop: string; onDrop: (text: string) => void }) {
  const read = drop.trim() === "" ? undefined : parseReading(drop);
  const volts = read?.kind === "value" && read.quantity === "volts" ? read.value : undefined;
  const current = volts === undefined ? undefined : ampsFromDrop(Math.abs(volts), fuse);
  return (
    <>
      <Field
        label="Drop over it"
        value={drop}
        onChange={onDrop}
        placeholder="4.2mV"
        mono
        hint={`cold blade about ${((fuse.ohms ?? 0) * 1000).toPrecision(2)} mΩ; good to some 15 %`}
        error={read !== undefined && volts === undefined ? "Type a voltage, such as 4.2mV or 0.004." : undefined}
      />
      {current === undefined ? null : (
        <Row aria-live="polite">
          <strong>{formatAmps(current)} flows</strong>
        </Row>
      )}
      {current !== undefined && fuse.ratingAmps !== undefined && current > fuse.ratingAmps ? (
        <Notice tone="caution">More than its rating. Never fit a larger fuse to see: find what takes it.</Notice>
      ) : null}
    </>
  );
}
