import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { circuitOf, MOMENTS, type Moment, type PinReading, type PinReadings } from "@rheonom/core/procedures";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { saveFile } from "../../ui/save-file.ts";
import { keepItem } from "../../job/kept.ts";
import { readGauge } from "../../job/reading.ts";
import { Table } from "../../ui/table.tsx";
import { useQueryAlone } from "../../worker/use-query.ts";

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: var(--s4);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Cell = styled.input`
  width: 100%;
  min-width: 84px;
  min-height: var(--target);
  padding: var(--s1) var(--s2);
  font-family: var(--mono);
  background: var(--field);
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  &[data-next] {
    border: 3px solid var(--accent);
  }
  &[aria-invalid="true"] {
    border: 2px solid var(--danger);
  }
  &::placeholder {
    color: var(--ink-2);
    opacity: 1;
  }
`;

const COUNTS = ["2", "3", "4", "5"].map((id) => ({ id, text: `${id} pins` }));
const NEW_VEHICLE_DRAFT = "rheonom.wiring.new";

type Typed = readonly Readonly<Record<Moment, string>>[];
const EMPTY: Typed = Array.from({ length: 5 }, () => ({ "key off": "", "key on": "", "engine turning": "" }));

/** "12.4", "440mV", or "toggles"; undefined while a cell is empty or cannot be read. */
function readCell(text: string): PinReading | undefined {
  const said = text.trim().toLowerCase();
  if (said === "") return undefined;
  if (["toggles", "t", "pulses", "~"].includes(said)) return { kind: "toggles" };
  const volts = readGauge(said, "V");
  return volts === undefined ? undefined : { kind: "steady", volts };
}

/** What stands behind a plug when there is no diagram: a handful of readings, with the part plugged in. */
export function PlugScreen() {
  const navigate = useNavigate();
  const [count, setCount] = useState("3");
  const [names, setNames] = useState(["1", "2", "3", "4", "5"]);
  const [what, setWhat] = useState("");
  const [typed, setTyped] = useState<Typed>(EMPTY);
  const n = Number(count);
  const readings = useMemo<PinReadings>(
    () =>
      typed.slice(0, n).map((row) => {
        const entries = MOMENTS.flatMap((m) => {
          const r = readCell(row[m]);
          return r === undefined ? [] : [[m, r] as const];
        });
        return Object.fromEntries(entries);
      }),
    [typed, n],
  );
  const answer = useQueryAlone("pins", { readings });
  const found = answer.value;
  const taken = readings.reduce((s, r) => s + Object.keys(r).length, 0);
  const set = (pin: number, moment: Moment, text: string): void =>
    setTyped((rows) => rows.map((r, i) => (i === pin ? { ...r, [moment]: text } : r)));
  const useIt = (): void => {
    const best = found?.likely[0];
    if (best === undefined) return;
    keepItem(NEW_VEHICLE_DRAFT, circuitOf(best, what, names.slice(0, n)));
    void navigate("/vehicles/new");
  };
  return (
    <Page>
      <h1>Unknown connector</h1>
      <Notice tone="danger" title="Not on airbag or high-voltage plugs">
        Restraint circuits, whatever their colour: no meter, no lamp; disconnect the battery and wait as the manufacturer states. Orange
        cables: out of bounds. Not on ignition coils or boosted injectors: hundreds of volts.
      </Notice>
      <Grid>
        <Panel style={{ padding: "var(--s3)" }}>
          <Row>
            <Segmented label="Plug" hideLabel options={COUNTS} value={count} onChange={setCount} />
            <Button onPress={() => setTyped(EMPTY)}>Clear</Button>
          </Row>
          <Faint>
            Leave the part plugged in. Black lead on battery negative, back-probe each pin with the red lead. Type volts, or t where the
            display fluctuates.
          </Faint>
          <div style={{ overflowX: "auto" }}>
            <Table>
              <thead>
                <tr>
                  <th scope="col">Pin</th>
                  {MOMENTS.map((m) => (
                    <th key={m} scope="col">
                      {m}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {typed.slice(0, n).map((row, pin) => (
                  <tr key={pin}>
                    <td>
                      <Cell
                        aria-label={`Name of pin ${pin + 1}`}
                        value={names[pin]}
                        maxLength={12}
                        style={{ minWidth: 56 }}
                        onChange={(e) => setNames((all) => all.map((x, i) => (i === pin ? e.target.value : x)))}
                      />
                    </td>
                    {MOMENTS.map((m) => (
                      <td key={m}>
                        <Cell
                          aria-label={`Pin ${names[pin]}, ${m}`}
                          value={row[m]}
                          placeholder="V"
                          inputMode="decimal"
                          aria-invalid={row[m].trim() !== "" && readCell(row[m]) === undefined}
                          data-next={found?.next?.pin === pin && found.next.moment === m ? "" : undefined}
                          onChange={(e) => set(pin, m, e.target.value)}
                        />
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </Table>
          </div>
          {typed.slice(0, n).some((row) => MOMENTS.some((m) => row[m].trim() !== "" && readCell(row[m]) === undefined)) ? (
            <Notice tone="caution">A framed cell cannot be read. Type volts such as 4.98, or t for a display that fluctuates.</Notice>
          ) : null}
          <Faint>Engine turning: in neutral or park, brake on, hands and leads clear of belts and fan.</Faint>
        </Panel>
        <Panel style={{ padding: "var(--s3)" }} aria-live="polite">
          {found === undefined ? (
            <p role="status">Computing what each kind of part shows …</p>
          ) : taken === 0 ? (
            <p style={{ margin: 0 }}>Begin with the framed cell. Each reading narrows what it can be.</p>
          ) : (
            <>
              <Notice
                tone={found.verdict === "stop" ? "caution" : "info"}
                title={found.verdict === "known" ? "Found" : found.verdict === "open" ? "Not yet sure" : "Stop"}
              >
                {found.words}
              </Notice>
              <ol style={{ margin: 0, paddingLeft: "1.3em" }}>
                {found.likely.slice(0, 5).map((l) => (
                  <li key={`${l.candidate.id} ${l.roles.join()}`} style={{ marginBottom: "var(--s2)" }}>
                    <strong>{Math.round(l.share * 100)} %</strong> {l.candidate.words}
                    <br />
                    <Faint>{l.roles.map((r, i) => `${names[i]}: ${r}`).join(" · ")}</Faint>
                  </li>
                ))}
              </ol>
              {found.verdict === "stop" ? null : (
                <Row style={{ alignItems: "end" }}>
                  <Field label="Call it" value={what} onChange={setWhat} placeholder="crankshaft sensor" grow />
                  <Button look={found.verdict === "known" ? "solid" : "plain"} onPress={useIt}>
                    Create circuit
                  </Button>
                  <Button
                    onPress={() =>
                      saveFile(
                        "plug.json",
                        JSON.stringify(
                          {
                            pins: names.slice(0, n),
                            readings,
                            answer: found.likely.map((l) => ({ is: l.candidate.words, roles: l.roles, share: l.share })),
                          },
                          null,
                          2,
                        ),
                        "application/json",
                      )
                    }
                  >
                    JSON
                  </Button>
                </Row>
              )}
            </>
          )}
        </Panel>
      </Grid>
    </Page>
  );
}
