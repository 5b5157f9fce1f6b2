import { useMemo, useState, type ReactNode } from "react";
import { Slider, SliderThumb, SliderTrack, Label as AriaLabel } from "react-aria-components";
import { X } from "lucide-react";
import { styled } from "styled-components";
import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import { inWords } from "@rheonom/core/diagnosis";
import { describePlace, linksOf, describeLink, loadsOf, partNameIn, type Harness } from "@rheonom/core/harness";
import type { FaultChoice, SupposedHere, WhatIf as Supposed } from "@rheonom/core/practice";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import { NO_SUSPECTS } from "@rheonom/drawing/slice";
import { drawnPart } from "../drawing/drawn-part.ts";
import { StaircaseView } from "../drawing/staircase-view.tsx";
import { SliceView } from "../drawing/slice-view.tsx";
import { StateBar } from "../job/state-bar.tsx";
import { Button } from "../ui/button.tsx";
import { Combo } from "../ui/combo.tsx";
import { Faint, Panel, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import { Select } from "../ui/select.tsx";
import { Table } from "../ui/table.tsx";
import { useQuery } from "../worker/use-query.ts";
import { partWords } from "./part-words.ts";

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: var(--s3);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Stack = styled.div`
  display: grid;
  gap: var(--s3);
  min-width: 0;
`;
const Sheet = styled.div`
  height: 420px;
  display: flex;
  flex-direction: column;
`;
const Degree = styled(Slider)`
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: var(--s3);
  align-items: center;
  min-height: var(--target);
  .track {
    height: 30px;
    position: relative;
    &::before {
      content: "";
      position: absolute;
      inset: 13px 0;
      border-radius: 2px;
      background: var(--line-strong);
    }
  }
  .thumb {
    top: 50%;
    width: 26px;
    height: 26px;
    border-radius: 50%;
    background: var(--accent);
    border: 2px solid var(--surface);
  }
  .thumb[data-focus-visible] {
    outline: 3px solid var(--focus);
  }
`;
const NONE: ReadonlyMap<string, number | undefined> = new Map();
const NO_NOTES: ReadonlyMap<string, string> = new Map();

/** A fault that is supposed, with what there is to choose of it. */
interface Chosen {
  readonly at: string;
  readonly choice: FaultChoice;
  readonly severity: number;
}

export interface WhatIfProps {
  readonly harness: Harness;
  readonly state: VehicleState;
  /** What can be made of it; told what is supposed, in which state. */
  readonly after?: (supposed: readonly SupposedHere[], state: VehicleState, isNoticed: boolean) => ReactNode;
}

/** Supposes faults: what the vehicle would do, read and report, beside a good one. Nothing of it is recorded. */
export function WhatIf({ harness, state: first, after }: WhatIfProps) {
  const [state, setState] = useState<VehicleState>({ ...REST_STATE, ...first });
  const [chosen, setChosen] = useState<readonly Chosen[]>([]);
  const [picked, setPicked] = useState<string | undefined>(undefined);
  const supposed = useMemo(() => chosen.map(({ choice, severity }) => ({ id: choice.id, severity })), [chosen]);
  const asked = useQuery("suppose", harness, supposed.length === 0 ? undefined : { state, supposed });
  const near = chosen.at(-1)?.at;
  const drawn = useMemo(
    () => (near === undefined ? undefined : drawnPart(harness, [near, ...(asked.value?.parts.slice(0, 2).map((p) => p.part) ?? [])])),
    [harness, near, asked.value],
  );
  const nearby = useMemo(() => new Set(drawn?.harness.components.map((c) => c.id)), [drawn]);
  const shown = supposed.length === 0 ? undefined : asked.value;
  return (
    <Grid>
      <Stack>
        <Panel aria-label="What is supposed">
          <StateBar harness={harness} state={state} near={nearby} onChange={(change) => setState((s) => ({ ...s, ...change }))} />
          {chosen.map((c, i) => (
            <One
              key={c.choice.id}
              chosen={c}
              onChange={(next) => setChosen(chosen.flatMap((x, k) => (k !== i ? [x] : next === undefined ? [] : [next])))}
            />
          ))}
          <Choose
            key={`${chosen.length} ${picked ?? ""}`}
            harness={harness}
            picked={picked}
            isFirst={chosen.length === 0}
            onChosen={(c) => {
              setPicked(undefined);
              setChosen([...chosen.filter((x) => x.choice.id !== c.choice.id), c]);
            }}
          />
        </Panel>
        {drawn === undefined ? null : (
          <Panel aria-label="Drawing with what is supposed">
            <Sheet>
              <SliceView
                harness={drawn.harness}
                whole={harness}
                zoom={0.8}
                middle={near === undefined ? undefined : partNameIn(near)}
                state={state}
                volts={shown?.now.volts ?? NONE}
                suspects={NO_SUSPECTS}
                notes={NO_NOTES}
                muted={drawn.muted}
                selected={near}
                onPick={(hit) => setPicked(hit.kind === "link" ? hit.id : partNameIn(hit.id))}
                red={undefined}
                black={undefined}
              />
            </Sheet>
          </Panel>
        )}
      </Stack>
      <Stack>
        {shown === undefined || drawn === undefined ? null : (
          <Path harness={harness} state={state} supposed={supposed} loads={loadsNear(harness, drawn.harness, shown)} />
        )}
        {supposed.length === 0 ? (
          <Panel>
            <p>Choose a wire, cavity, ground or part, and what happens to it. Then the vehicle with it stands here beside a good one.</p>
          </Panel>
        ) : asked.busy ? (
          <p role="status">Working it out …</p>
        ) : shown === undefined ? (
          <Notice tone="caution">The circuit has no answer with that in this state. Choose another state or degree.</Notice>
        ) : (
          <Differences harness={harness} shown={shown} />
        )}
        {shown === undefined || after === undefined
          ? null
          : after(supposed, state, shown.parts.length + shown.codes.length + shown.silent.length > 0)}
      </Stack>
    </Grid>
  );
}

function One({ chosen, onChange }: { chosen: Chosen; onChange: (next: Chosen | undefined) => void }) {
  const { choice, severity } = chosen;
  const at = choice.severities.indexOf(severity);
  const words = choice.isOhms ? formatOhms(severity) : String(severity);
  return (
    <div>
      <Row style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
        <strong>{choice.words}</strong>
        <Button look="quiet" onPress={() => onChange(undefined)} aria-label={`Take out ${choice.id}`}>
          <X size={18} aria-hidden />
        </Button>
      </Row>
      {choice.severities.length < 2 ? null : (
        <Degree
          minValue={0}
          maxValue={choice.severities.length - 1}
          value={Math.max(0, at)}
          onChange={(i) => onChange({ ...chosen, severity: choice.severities[Number(i)]! })}
        >
          <AriaLabel>How bad</AriaLabel>
          <SliderTrack className="track">
            <SliderThumb className="thumb" />
          </SliderTrack>
          <span>{words}</span>
        </Degree>
      )}
    </div>
  );
}

/** An element by typing, then what can be wrong with it. */
function Choose({
  harness,
  picked,
  isFirst,
  onChosen,
}: {
  harness: Harness;
  /** What was tapped on the drawing. */
  picked: string | undefined;
  isFirst: boolean;
  onChosen: (c: Chosen) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState<string | undefined>(picked);
  const options = useMemo(() => {
    const links = linksOf(harness).filter((l) => l.kind !== "device" && l.kind !== "load" && l.kind !== "fuse" && l.kind !== "switch");
    const parts = harness.components.filter((c) => c.kind !== "connector").map((c) => [c.id as string, partWords(harness, c.id)] as const);
    const named = new Map<string, string>([
      ...parts,
      ...links.map((l) => [l.id as string, `${l.id}: ${describeLink(harness, l)}`] as const),
    ]);
    return [...named].map(([id, said]) => ({ id, text: said }));
  }, [harness]);
  const faults = useQuery("faultsAt", harness, at === undefined ? undefined : { at });
  const list = at === undefined ? undefined : faults.value;
  return (
    <Stack>
      {at !== undefined ? (
        <Row style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
          <strong>{options.find((o) => o.id === at)?.text ?? at}</strong>
          <Button style={{ flex: "none" }} onPress={() => setAt(undefined)}>
            Another place
          </Button>
        </Row>
      ) : (
        <Combo
          label={isFirst ? "Where is something wrong?" : "And where else?"}
          placeholder="W12, C5.2, G3, fuel pump"
          options={options}
          text={text}
          onText={setText}
          onChoose={(id) => {
            setText("");
            setAt(id);
          }}
          none="Nothing on this vehicle is called that."
        />
      )}
      {at === undefined ? null : list === undefined || faults.busy ? (
        <Faint role="status">Looking what can be wrong with it …</Faint>
      ) : list.length === 0 ? (
        <Faint>Nothing can be wrong with {at} by itself. Choose what is joined to it.</Faint>
      ) : (
        <Select
          label="What happens to it?"
          value={undefined}
          onChange={(id) => {
            const choice = list.find((f) => f.id === id)!;
            onChosen({ at, choice, severity: choice.severities[choice.severities.length >> 1]! });
          }}
          options={list.map((f) => ({ id: f.id, text: f.words }))}
        />
      )}
    </Stack>
  );
}

/** Loads that the path may be shown of: first those that do otherwise with it, then those of the drawing. */
function loadsNear(harness: Harness, drawn: Harness, { parts }: Supposed): readonly string[] {
  const all = loadsOf(harness).map((l) => l.id);
  const isOf = (load: string, part: string): boolean => partNameIn(load) === part;
  const changed = parts.flatMap(({ part }) => all.filter((l) => isOf(l, part)));
  return [...new Set([...changed, ...all.filter((l) => drawn.components.some((c) => isOf(l, c.id)))])];
}

/** The way from battery positive through a load and back, a good one and with what is supposed. */
function Path({
  harness,
  state,
  supposed,
  loads,
}: {
  harness: Harness;
  state: VehicleState;
  supposed: readonly SupposedHere[];
  loads: readonly string[];
}) {
  const [chosen, setChosen] = useState<string | undefined>(undefined);
  const load = chosen !== undefined && loads.includes(chosen) ? chosen : loads[0];
  const path = useQuery("supposePath", harness, load === undefined ? undefined : { state, supposed, load }).value;
  if (load === undefined || path === undefined) return null;
  return (
    <Panel aria-label="The path with what is supposed">
      <Row>
        <Select
          label="Load"
          inline
          value={load}
          onChange={setChosen}
          options={loads.map((id) => ({ id, text: partWords(harness, partNameIn(id)) }))}
        />
        <Faint>Dashed: a good one.</Faint>
      </Row>
      <StaircaseView harness={harness} trace={path} height={180} scale="ends" selected={undefined} />
    </Panel>
  );
}

function Differences({ harness, shown }: { harness: Harness; shown: Supposed }) {
  const { parts, volts, amps, blown, codes, silent, live } = shown;
  const nothing = parts.length + volts.length + amps.length + codes.length + silent.length + live.length === 0;
  const told = (value: number | undefined, unit: string): string =>
    value === undefined ? "no response" : unit === "V" ? formatVolts(value) : `${value.toFixed(0)} ${unit}`;
  const v = (value: number | undefined): string => (value === undefined ? "floats" : formatVolts(value));
  const links = useMemo(() => new Map(linksOf(harness).map((l) => [l.id as string, l])), [harness]);
  return (
    <Panel aria-label="What is otherwise than on a good vehicle">
      <h2>Otherwise than on a good vehicle</h2>
      {nothing ? <p>Nothing in this state. Set key, engine and switches so that current flows there.</p> : null}
      {parts.length === 0 ? null : (
        <p>
          <strong>{parts.map((p) => `${partWords(harness, p.part)}: ${inWords(p.word)}`).join("; ")}</strong>
        </p>
      )}
      {blown.length === 0 ? null : <p>Blown: {blown.map((f) => partWords(harness, f)).join(", ")}</p>}
      {codes.length + silent.length === 0 ? null : (
        <p>
          {codes.length === 0 ? "" : `Codes: ${codes.join(", ")}. `}
          {silent.length === 0 ? "" : `No response: ${silent.map((m) => partWords(harness, m)).join(", ")}.`}
        </p>
      )}
      <Beside
        label="Voltages against battery negative"
        of="Point"
        rows={volts.slice(0, SHOWN).map((x) => ({ id: x.place, words: describePlace(harness, x.place), good: v(x.good), now: v(x.now) }))}
      />
      <Beside
        label="Live data"
        of="Module"
        rows={live.slice(0, SHOWN_LIVE).map((x) => ({
          id: x.module,
          words: x.name,
          good: told(x.good, x.unit),
          now: told(x.now, x.unit),
        }))}
      />
      <Beside
        label="Currents"
        of="Through"
        rows={amps.slice(0, SHOWN_AMPS).map((x) => {
          const link = links.get(x.link);
          const words = link === undefined ? "" : describeLink(harness, link);
          return { id: x.link, words, good: formatAmps(Math.abs(x.good)), now: formatAmps(Math.abs(x.now)) };
        })}
      />
    </Panel>
  );
}

/** What a good vehicle has, and what this one has with it. */
function Beside({
  label,
  of,
  rows,
}: {
  label: string;
  of: string;
  rows: readonly { readonly id: string; readonly words: string; readonly good: string; readonly now: string }[];
}) {
  if (rows.length === 0) return null;
  return (
    <Table aria-label={label}>
      <thead>
        <tr>
          <th scope="col">{of}</th>
          <th scope="col" className="n">
            Good
          </th>
          <th scope="col" className="n">
            With it
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={`${r.id} ${r.words}`}>
            <td>
              <strong>{r.id}</strong> <Faint>{r.words}</Faint>
            </td>
            <td className="n">{r.good}</td>
            <td className="n">{r.now}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** Rows that are shown. */
const SHOWN = 10;
const SHOWN_AMPS = 6;
const SHOWN_LIVE = 8;
