import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from "react";
import { ZoomIn, ZoomOut } from "lucide-react";
import { styled } from "styled-components";
import { findInHarness, focusOfCode, type Harness, partNameIn, sliceOf } from "@rheonom/core/harness";
import type { Hit, Scene } from "@rheonom/drawing/scene";
import { sceneToSvg } from "@rheonom/drawing/svg";
import { saveFile, svgToPng } from "../../ui/save-file.ts";
import { SliceView } from "../../drawing/slice-view.tsx";
import { Button, Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";
import { useShortcuts } from "../../job/shortcuts.ts";
import { About } from "./about.tsx";
import { partWords, useVehicle } from "./vehicle-context.ts";

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

const NOTHING: ReadonlyMap<string, string> = new Map();
/** Below this the labels cannot be read at arm's length. */
const LEAST_ZOOM = 0.8;
const PAPER_FONT = "sans-serif";

/** The slice for a question: typed, picked, or in the address. */
export function CircuitTab() {
  const { harness, whole, options, state, volts, ask, query, id } = useVehicle();
  const [typed, setTyped] = useState("");
  const [zoom, setZoom] = useState<number | undefined>(undefined);
  const [room, setRoom] = useState({ width: 900, height: 600 });
  const sheet = useRef<HTMLDivElement>(null);
  const [scene, setScene] = useState<Scene | undefined>(undefined);
  const field = useRef<HTMLInputElement>(null);
  const focus = useMemo(() => (query.get("of") ?? "").split("+").filter(Boolean), [query]);
  const selected = query.get("at") ?? undefined;
  const sharers = query.get("alone") === null;
  const ghosted = query.get("ghosts") !== null;
  const found = useMemo(() => findInHarness(ghosted ? whole : harness, typed), [ghosted, whole, harness, typed]);
  const drawnFrom = ghosted ? whole : harness;
  const focused = useMemo(() => focus.flatMap((f) => expand(drawnFrom, f)), [drawnFrom, focus]);
  const slice = useMemo(() => (focused.length === 0 ? undefined : sliceOf(drawnFrom, focused, { sharers })), [drawnFrom, focused, sharers]);
  const ghosts = useMemo(() => {
    const here = new Set([...harness.components, ...harness.wires].map((x) => x.id));
    return new Set([...drawnFrom.components, ...drawnFrom.wires].flatMap((x) => (here.has(x.id) ? [] : [x.id])));
  }, [drawnFrom, harness]);
  const show = (ids: readonly string[]): void => {
    ask({ of: ids.join("+"), at: undefined });
    setTyped("");
  };
  const pick = useCallback((hit: Hit): void => ask({ at: hit.id }), [ask]);
  // Unless somebody has zoomed, a wide drawing shrinks to its room as far as it stays readable.
  const fitting = scene === undefined ? 1 : Math.min((room.width - 18) / scene.width, (room.height - 18) / scene.height);
  const shownZoom = zoom ?? Math.min(1, Math.max(LEAST_ZOOM, fitting));
  useEffect(() => {
    if (sheet.current === null) return;
    const watch = new ResizeObserver((entries) => setRoom(entries[0]?.contentRect ?? { width: 900, height: 600 }));
    watch.observe(sheet.current);
    return () => watch.disconnect();
  }, []);
  useShortcuts({
    findInDrawing: () => field.current?.focus(),
    zoomIn: () => setZoom(Math.min(2, shownZoom * 1.2)),
    zoomOut: () => setZoom(Math.max(0.4, shownZoom / 1.2)),
    zoomFit: () => setZoom(undefined),
  });
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === "Enter" && found[0] !== undefined) show(found[0].focus);
  };
  const takeAway = async (form: "svg" | "png"): Promise<void> => {
    if (scene === undefined) return;
    const svg = sceneToSvg(scene, PAPER_FONT);
    const name = `${id}-${focus.join("-")}`;
    if (form === "svg") saveFile(`${name}.svg`, svg, "image/svg+xml");
    else
      await svgToPng(svg, scene.width, scene.height).then(
        (png) => saveFile(`${name}.png`, png, "image/png"),
        (error: unknown) => toast(`The picture could not be made: ${error instanceof Error ? error.message : String(error)}`),
      );
  };
  const parts = slice?.harness.components.length ?? 0;
  return (
    <Grid>
      <Side style={{ gridArea: "tools" }}>
        <Panel style={{ padding: "var(--s3)" }} onKeyDown={onKeyDown}>
          <Field
            label="Find a part, wire, code or symptom"
            value={typed}
            onChange={setTyped}
            placeholder="FAN, W12, P0118, stop light"
            hint="Enter takes the first; / comes back here"
            inputRef={field}
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
        <Panel style={{ padding: "var(--s3)", gap: "var(--s2)" }} aria-label="Drawing">
          <Row>
            <Toggle isSelected={sharers} onChange={(on) => ask({ alone: on ? undefined : "1" })}>
              with what shares
            </Toggle>
            {(whole.options ?? []).length > options.length ? (
              <Toggle isSelected={ghosted} onChange={(on) => ask({ ghosts: on ? "1" : undefined })}>
                ghosts
              </Toggle>
            ) : null}
          </Row>
          <Row style={{ flexWrap: "nowrap", gap: "var(--s2)" }}>
            <Button onPress={() => setZoom(Math.max(0.4, shownZoom / 1.2))} aria-label="Smaller">
              <ZoomOut size={18} aria-hidden />
            </Button>
            <Button onPress={() => setZoom(undefined)} aria-label="Fit the room">
              {Math.round(shownZoom * 100)} %
            </Button>
            <Button onPress={() => setZoom(Math.min(2, shownZoom * 1.2))} aria-label="Larger">
              <ZoomIn size={18} aria-hidden />
            </Button>
            <Button isDisabled={scene === undefined} onPress={() => void takeAway("svg")}>
              SVG
            </Button>
            <Button isDisabled={scene === undefined} onPress={() => void takeAway("png")}>
              PNG
            </Button>
          </Row>
        </Panel>
      </Side>
      <Side style={{ gridArea: "about" }}>
        <About
          harness={drawnFrom}
          selected={selected}
          volts={volts}
          isAbsent={selected !== undefined && ghosts.has(partNameIn(selected))}
          onShow={show}
        />
        {slice !== undefined && slice.sharers.length > 0 ? (
          <Panel style={{ padding: "var(--s3)" }} aria-label="Shares with it">
            <h2>On the same nodes</h2>
            <List>
              {slice.sharers.map((s) => (
                <li key={s.load}>
                  <button type="button" onClick={() => show([partNameIn(s.load)])}>
                    {partWords(drawnFrom, partNameIn(s.load))}
                    <span>
                      shares {s.shares}
                      {s.drawn && sharers ? "" : "; not drawn"}
                    </span>
                  </button>
                </li>
              ))}
            </List>
          </Panel>
        ) : null}
      </Side>
      <div style={{ gridArea: "drawing", minWidth: 0 }}>
        {focus.length > 0 && slice !== undefined && parts === 0 ? (
          <Notice tone="info">
            {focus.join(", ")} is not on this vehicle with these options. Turn on ghosts of options to see where it would be.
          </Notice>
        ) : null}
        <Sheet ref={sheet}>
          {slice === undefined ? (
            <Start onShow={show} />
          ) : (
            <SliceView
              harness={slice.harness}
              whole={drawnFrom}
              state={state}
              volts={volts}
              suspects={NOTHING}
              notes={NOTHING}
              selected={selected}
              red={undefined}
              black={undefined}
              ghosts={ghosts}
              zoom={shownZoom}
              onPick={pick}
              onScene={setScene}
            />
          )}
        </Sheet>
      </div>
    </Grid>
  );
}

/** A code stands for what it is about. */
const expand = (harness: Harness, id: string): readonly string[] =>
  harness.monitors?.some((m) => m.code === id) === true ? focusOfCode(harness, id) : [id];

/** Before a question is asked: what can be looked at, by kind. */
function Start({ onShow }: { onShow: (ids: readonly string[]) => void }) {
  const { harness } = useVehicle();
  const groups: readonly (readonly [string, readonly string[]])[] = [
    [
      "Loads",
      harness.components.flatMap((c) =>
        c.kind === "load" || (c.kind === "device" && /motor|starter|injector|glowplug|ignition/.test(c.device)) ? [c.id] : [],
      ),
    ],
    ["Modules", harness.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c.id] : []))],
    ["Sensors", harness.components.flatMap((c) => (c.kind === "device" && /pot|ntc|hall|pickup/.test(c.device) ? [c.id] : []))],
    ["Supply", harness.components.flatMap((c) => (c.kind === "device" && c.device === "alternator" ? [c.id] : []))],
  ];
  return (
    <div style={{ padding: "var(--s4)", overflow: "auto" }}>
      <p style={{ marginTop: 0 }}>Find what the complaint is about, or take it from here. Only its own path and what shares it is drawn.</p>
      {groups.map(([title, ids]) =>
        ids.length === 0 ? null : (
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
        ),
      )}
    </div>
  );
}

export type Volts = ReadonlyMap<string, number | undefined>;
