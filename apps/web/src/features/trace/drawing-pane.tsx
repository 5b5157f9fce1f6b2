import { useMemo, useRef, useState, type RefObject } from "react";
import { styled } from "styled-components";
import { describeLink, linksOf, partNameIn, type Harness } from "@rheonom/core/harness";
import type { Scene } from "@rheonom/drawing/scene";
import { drawnPart } from "../../drawing/drawn-part.ts";
import { SliceView } from "../../drawing/slice-view.tsx";
import { useZoom } from "../../drawing/use-zoom.ts";
import { Where, type WhereProps } from "../../drawing/where.tsx";
import { ZoomButtons } from "../../drawing/zoom-buttons.tsx";
import { useShortcuts } from "../../job/shortcuts.ts";
import { Toggle } from "../../ui/button.tsx";
import { Combo } from "../../ui/combo.tsx";
import { useStable } from "../../ui/use-stable.ts";
import { toast } from "../../ui/toast.tsx";
import { WorkOutButton } from "./work-out-dialog.tsx";
import { SelectionPanel } from "./selection-panel.tsx";
import { SliceBox } from "./trace-layout.ts";
import { marksOf, measuredByPlace } from "./trace-model.ts";
import type { TraceBench } from "./use-trace.ts";

const Tools = styled.div`
  display: flex;
  gap: var(--s1);
  padding: var(--s1);
  border-bottom: 1px solid var(--line);
  & > :first-child {
    flex: 1 1 90px;
  }
  button {
    flex: none;
    padding: 0 6px;
  }
`;

const NO_VOLTS: ReadonlyMap<string, number> = new Map();

/** The slice of the load, with what was measured and how far everything in it is suspected; below it where on the vehicle that is, and what is selected. */
export function DrawingPane({ bench, places }: { bench: TraceBench; places: Pick<WhereProps, "red" | "black" | "hands"> }) {
  const { harness, load, draft, shown, selected, closed, record, ranked } = bench;
  const [shares, setShares] = useState(false);
  const drawn = drawnPart(harness, [load], shares);
  const room = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const [scene, setScene] = useState<Scene | undefined>(undefined);
  const zoom = useZoom(room, scene);
  useShortcuts({ findInTrace: () => field.current?.focus() });
  const { suspects, notes } = useMemo(() => marksOf(shown?.judged, ranked), [shown, ranked]);
  const measured = useMemo(() => measuredByPlace(shown?.judged), [shown]);
  const pick = useStable(bench.pick);
  const clamp = draft.mode === "amps";
  return (
    <SliceBox aria-label="Circuit">
      <Tools>
        <Find harness={drawn.harness} inputRef={field} onFound={(at) => bench.goTo({ at })} />
        <ZoomButtons zoom={zoom} />
        {drawn.harness === harness ? null : (
          <Toggle isSelected={shares} onChange={setShares} aria-label="Draw what shares a fuse, ground or module">
            shared
          </Toggle>
        )}
      </Tools>
      <div ref={room} style={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
        <SliceView
          harness={drawn.harness}
          whole={harness}
          zoom={zoom.zoom}
          middle={partNameIn(load)}
          state={bench.state}
          volts={shown?.sound?.volts ?? NO_VOLTS}
          suspects={suspects}
          notes={notes}
          muted={drawn.muted}
          selected={selected}
          red={clamp ? undefined : draft.red}
          black={clamp ? undefined : draft.black}
          onPick={pick}
          onScene={setScene}
        />
      </div>
      <Where harness={harness} selected={selected} {...places} />
      <SelectionPanel
        harness={harness}
        selected={selected}
        sound={shown?.sound}
        measured={measured}
        standing={bench.standing.busy || bench.standing.failed !== undefined ? undefined : bench.standing.value}
        onAcross={bench.putLeads}
        onLook={
          closed || bench.hands.look === undefined
            ? undefined
            : (at) =>
                void bench.hands.look!(bench.state, { kind: "look", at }, false).then((message) => {
                  if (message !== undefined) toast(message);
                })
        }
        onFound={closed ? undefined : (data) => record({ type: "found-different", data })}
        workOut={
          selected === undefined ? null : (
            <WorkOutButton
              harness={harness}
              selected={selected}
              state={bench.state}
              readings={bench.job.view.readings}
              sound={shown?.sound}
              onReading={closed ? undefined : bench.keepReading}
            />
          )
        }
      />
    </SliceBox>
  );
}

/** Types towards a wire, cavity or part of the drawing, which is then selected and brought into sight. */
function Find({
  harness,
  inputRef,
  onFound,
}: {
  harness: Harness;
  inputRef: RefObject<HTMLInputElement | null>;
  onFound: (id: string) => void;
}) {
  const [text, setText] = useState("");
  const options = useMemo(() => {
    // Wires last: what they lead to is named by itself.
    const links = linksOf(harness).filter((l) => l.kind !== "joint");
    const ordered = [...links.filter((l) => l.kind !== "wire"), ...links.filter((l) => l.kind === "wire")];
    const parts = harness.components.map((c) => [c.id as string, [c.id, c.label ?? c.kind].join(": ")] as const);
    const named = new Map<string, string>([
      ...parts,
      ...ordered.map((l) => [l.id as string, `${l.id}: ${describeLink(harness, l)}`] as const),
    ]);
    return [...named].map(([id, said]) => ({ id, text: said }));
  }, [harness]);
  return (
    <Combo
      key={harness.name + options.length}
      label="Find in the drawing"
      hideLabel
      options={options}
      text={text}
      onText={setText}
      onChoose={(id) => {
        onFound(id);
        setText("");
        // Leaving the field closes the list, which opens whenever its text changes.
        inputRef.current?.blur();
      }}
      none="Not in this drawing."
      placeholder="find  /"
      inputRef={inputRef}
    />
  );
}
