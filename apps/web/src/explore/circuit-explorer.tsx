import { useCallback, useMemo, useRef, useState, type ReactNode, type RefObject } from "react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { partNameIn, type Harness, type Slice } from "@rheonom/core/harness";
import type { Hit, Scene } from "@rheonom/drawing/scene";
import { NO_SUSPECTS } from "@rheonom/drawing/slice";
import { sceneToSvg } from "@rheonom/drawing/svg";
import { SliceView } from "../drawing/slice-view.tsx";
import { useZoom, type Zoom } from "../drawing/use-zoom.ts";
import { ZoomButtons } from "../drawing/zoom-buttons.tsx";
import { useShortcuts } from "../job/shortcuts.ts";
import { Button, Toggle } from "../ui/button.tsx";
import { Field } from "../ui/field.tsx";
import { Faint, Panel, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import { saveFile, svgToPng } from "../ui/save-file.ts";
import { toast } from "../ui/toast.tsx";
import { About } from "./about.tsx";
import { foundBy, ghostsOf, questionIn, sliceFor, startingPoints } from "./slice-question.ts";
import { partWords } from "./part-words.ts";

const Grid = styled.div`
  display: grid;
  grid-template: "drawing tools" auto "drawing about" 1fr / minmax(0, 1fr) 330px;
  gap: var(--s3);
  align-items: start;
  @media (max-width: 900px) {
    grid-template: "tools" auto "drawing" auto "about" auto / minmax(0, 1fr);
  }
`;
const Sheet = styled.div`
  display: flex;
  flex-direction: column;
  height: calc(100dvh - 190px);
  min-height: 380px;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  overflow: hidden;
  @media print {
    height: auto;
    border: none;
  }
`;
const Side = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s3);
`;
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 300px;
  overflow: auto;
  button {
    all: unset;
    box-sizing: border-box;
    display: block;
    width: 100%;
    min-height: var(--target);
    padding: var(--s1) var(--s2);
    cursor: pointer;
    border-radius: var(--radius);
  }
  button:hover {
    background: var(--accent-soft);
  }
  button:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: -3px;
  }
  span {
    display: block;
    color: var(--ink-2);
    font-size: 0.9375rem;
  }
`;

const NO_NOTES: ReadonlyMap<string, string> = new Map();
const PAPER_FONT = "sans-serif";

export interface ExplorerProps {
  /** The wiring with everything in it that any vehicle has. */
  readonly whole: Harness;
  /** The wiring of the vehicle with the chosen options. */
  readonly harness: Harness;
  readonly options: readonly string[];
  readonly state: VehicleState;
  /** What every place of the sound vehicle has in this state, V. */
  readonly volts: ReadonlyMap<string, number | undefined>;
  /** The question, as an address says it. */
  readonly query: URLSearchParams;
  /** Changes the question; undefined takes a value out. */
  readonly ask: (change: Readonly<Record<string, string | undefined>>) => void;
  /** Of files that are taken away. */
  readonly name: string;
  /** Words that stand at places of the drawing. */
  readonly notes?: ReadonlyMap<string, string>;
  /** Stands below what is selected. */
  readonly children?: ReactNode;
}

/** A circuit by slices: typed towards, picked, or asked for by the address. */
export function CircuitExplorer({ harness, whole, options, state, volts, ask, query, name, notes = NO_NOTES, children }: ExplorerProps) {
  const sheet = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const [scene, setScene] = useState<Scene | undefined>(undefined);
  const question = useMemo(() => questionIn(query), [query]);
  const { focus, selected, sharers, ghosted } = question;
  const drawnFrom = ghosted ? whole : harness;
  const slice = useMemo(() => sliceFor(drawnFrom, question), [drawnFrom, question]);
  const ghosts = useMemo(() => ghostsOf(drawnFrom, harness), [drawnFrom, harness]);
  const show = useCallback((ids: readonly string[]): void => ask({ of: ids.join("+"), at: undefined }), [ask]);
  const pick = useCallback((hit: Hit): void => ask({ at: hit.id }), [ask]);
  const zoom = useZoom(sheet, scene);
  useShortcuts({ findInDrawing: () => field.current?.focus(), zoomIn: zoom.larger, zoomOut: zoom.smaller, zoomFit: zoom.fit });
  return (
    <Grid>
      <Side style={{ gridArea: "tools" }}>
        <Find harness={drawnFrom} inputRef={field} onShow={show} />
        <DrawingTools
          zoom={zoom}
          sharers={sharers}
          ghosted={ghosted}
          mayGhost={(whole.options ?? []).length > options.length}
          scene={scene}
          name={`${name}-${focus.join("-")}`}
          ask={ask}
        />
      </Side>
      <Side style={{ gridArea: "about" }}>
        <About
          harness={drawnFrom}
          selected={selected}
          volts={volts}
          isAbsent={selected !== undefined && ghosts.has(partNameIn(selected))}
          onShow={show}
        />
        <Sharers harness={drawnFrom} slice={slice} areDrawn={sharers} onShow={show} />
        {children}
      </Side>
      <div style={{ gridArea: "drawing", minWidth: 0 }}>
        {slice !== undefined && slice.harness.components.length === 0 ? (
          <Notice tone="info">
            {focus.join(", ")} is not on this vehicle with these options. Turn on ghosts of options to see where it would be.
          </Notice>
        ) : null}
        <Sheet ref={sheet}>
          {slice === undefined ? (
            <Start harness={harness} onShow={show} />
          ) : (
            <SliceView
              harness={slice.harness}
              whole={drawnFrom}
              state={state}
              volts={volts}
              suspects={NO_SUSPECTS}
              notes={notes}
              selected={selected}
              red={undefined}
              black={undefined}
              ghosts={ghosts}
              zoom={zoom.zoom}
              onPick={pick}
              onScene={setScene}
            />
          )}
        </Sheet>
      </div>
    </Grid>
  );
}

interface Shows {
  readonly onShow: (ids: readonly string[]) => void;
}

/** Types towards a part, wire, code or symptom. */
function Find({ harness, inputRef, onShow }: Shows & { harness: Harness; inputRef: RefObject<HTMLInputElement | null> }) {
  const [typed, setTyped] = useState("");
  const found = useMemo(() => foundBy(harness, typed), [harness, typed]);
  const show = (ids: readonly string[]): void => {
    onShow(ids);
    setTyped("");
  };
  return (
    <Panel
      style={{ padding: "var(--s3)" }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && found[0] !== undefined) show(found[0].focus);
      }}
    >
      <Field
        label="Find a part, wire, code or symptom"
        value={typed}
        onChange={setTyped}
        placeholder="FAN, W12, P0118, stop light"
        hint="Enter takes the first; / comes back here"
        inputRef={inputRef}
      />
      {typed !== "" && found.length === 0 ? <Faint>Nothing of this vehicle is called that. Try a part of the word.</Faint> : null}
      {found.length > 0 ? (
        <List aria-label="Found">
          {found.map((f) => (
            <li key={`${f.kind} ${f.id}`}>
              <button type="button" onClick={() => show(f.focus)}>
                <strong>{f.id}</strong>
                <span>{f.words}</span>
              </button>
            </li>
          ))}
        </List>
      ) : null}
    </Panel>
  );
}

interface DrawingToolsProps {
  readonly zoom: Zoom;
  readonly sharers: boolean;
  readonly ghosted: boolean;
  /** Some options are left out on this vehicle. */
  readonly mayGhost: boolean;
  readonly scene: Scene | undefined;
  /** Of the file that is taken away. */
  readonly name: string;
  readonly ask: ExplorerProps["ask"];
}

/** What is drawn, how large, and how it is taken away. */
function DrawingTools({ zoom, sharers, ghosted, mayGhost, scene, name, ask }: DrawingToolsProps) {
  return (
    <Panel style={{ padding: "var(--s3)", gap: "var(--s2)" }} aria-label="Drawing">
      <Row>
        <Toggle isSelected={sharers} onChange={(on) => ask({ alone: on ? undefined : "1" })}>
          with what shares
        </Toggle>
        {mayGhost ? (
          <Toggle isSelected={ghosted} onChange={(on) => ask({ ghosts: on ? "1" : undefined })}>
            ghosts
          </Toggle>
        ) : null}
      </Row>
      <Row style={{ flexWrap: "nowrap", gap: "var(--s2)" }}>
        <ZoomButtons zoom={zoom} />
        <Button isDisabled={scene === undefined} onPress={() => void takeAway(scene, name, "svg")}>
          SVG
        </Button>
        <Button isDisabled={scene === undefined} onPress={() => void takeAway(scene, name, "png")}>
          PNG
        </Button>
      </Row>
    </Panel>
  );
}

async function takeAway(scene: Scene | undefined, name: string, form: "svg" | "png"): Promise<void> {
  if (scene === undefined) return;
  const svg = sceneToSvg(scene, PAPER_FONT);
  if (form === "svg") return saveFile(`${name}.svg`, svg, "image/svg+xml");
  await svgToPng(svg, scene.width, scene.height).then(
    (png) => saveFile(`${name}.png`, png, "image/png"),
    (error: unknown) => toast(`The picture could not be made: ${error instanceof Error ? error.message : String(error)}`),
  );
}

/** What hangs on the same nodes. */
function Sharers({ harness, slice, areDrawn, onShow }: Shows & { harness: Harness; slice: Slice | undefined; areDrawn: boolean }) {
  if (slice === undefined || slice.sharers.length === 0) return null;
  return (
    <Panel style={{ padding: "var(--s3)" }} aria-label="Shares with it">
      <h2>On the same nodes</h2>
      <List>
        {slice.sharers.map((s) => (
          <li key={s.load}>
            <button type="button" onClick={() => onShow([partNameIn(s.load)])}>
              {partWords(harness, partNameIn(s.load))}
              <span>
                shares {s.shares}
                {s.drawn && areDrawn ? "" : "; not drawn"}
              </span>
            </button>
          </li>
        ))}
      </List>
    </Panel>
  );
}

/** Before a question is asked: what can be looked at, by kind. */
function Start({ harness, onShow }: Shows & { harness: Harness }) {
  return (
    <div style={{ padding: "var(--s4)", overflow: "auto" }}>
      <p style={{ marginTop: 0 }}>Find what the complaint is about, or take it from here. Only its own path and what shares it is drawn.</p>
      {startingPoints(harness).map(({ title, ids }) => (
        <section key={title} style={{ marginBottom: "var(--s4)" }}>
          <h2 style={{ margin: "0 0 var(--s2)" }}>{title}</h2>
          <Row>
            {ids.map((p) => (
              <Button key={p} onPress={() => onShow([p])}>
                {partWords(harness, p)}
              </Button>
            ))}
          </Row>
        </section>
      ))}
    </div>
  );
}
