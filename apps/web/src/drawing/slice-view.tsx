import { useEffect, useMemo, useRef, useState, type DOMAttributes, type RefObject } from "react";
import { styled } from "styled-components";
import type { Harness } from "@rheonom/core/harness";
import type { Hit, Scene } from "@rheonom/drawing/scene";
import { drawSlice, type SliceOptions } from "@rheonom/drawing/slice";
import { useLayout } from "../worker/use-layout.ts";
import { SceneView } from "./scene-view.tsx";

const Scroll = styled.div`
  overflow: auto;
  min-height: 0;
  flex: 1;
  @media print {
    overflow: visible;
  }
`;
const Waiting = styled.p`
  color: var(--ink-2);
  padding: var(--s3);
`;

/** Below this the labels cannot be read at arm's length. */
const LEAST_ZOOM = 0.8;

/** Moves a scrolling room by pulling it with the mouse; fingers do so by themselves. */
function useDragPan(box: RefObject<HTMLDivElement | null>): Pick<DOMAttributes<HTMLDivElement>, "onPointerDown"> {
  return {
    onPointerDown: (event) => {
      const room = box.current;
      if (room === null || event.pointerType !== "mouse" || event.button !== 0) return;
      const from = { x: event.clientX + room.scrollLeft, y: event.clientY + room.scrollTop };
      const move = (e: PointerEvent): void => room.scrollTo(from.x - e.clientX, from.y - e.clientY);
      const end = (): void => {
        window.removeEventListener("pointermove", move);
        window.removeEventListener("pointerup", end);
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", end);
    },
  };
}

export interface SliceViewProps extends SliceOptions {
  readonly harness: Harness;
  /** The vehicle that the drawn part was cut from. */
  readonly whole?: Harness | undefined;
  /** Told of the drawing whenever it changes, for taking it along. */
  readonly onScene?: (scene: Scene) => void;
  readonly onPick?: (hit: Hit) => void;
  readonly zoom?: number;
  /** Shrinks a drawing to its room, as far as it stays readable. */
  readonly fit?: boolean;
}

/** The circuit laid out feed at the top, return at the bottom. Scrolls so that what is selected stays in sight. */
export function SliceView({
  harness,
  whole,
  onScene,
  onPick,
  zoom = 1,
  fit = false,
  state,
  volts,
  suspects,
  notes,
  selected,
  red,
  black,
  ghosts,
}: SliceViewProps) {
  const layout = useLayout(harness, whole ?? harness);
  const box = useRef<HTMLDivElement>(null);
  const graph = layout.value;
  const scene = useMemo(
    () =>
      graph === undefined
        ? undefined
        : drawSlice(harness, graph, { state, volts, suspects, notes, selected, red, black, ...(ghosts === undefined ? {} : { ghosts }) }),
    [harness, graph, state, volts, suspects, notes, selected, red, black, ghosts],
  );
  const pan = useDragPan(box);
  const [room, setRoom] = useState({ width: 1000, height: 1000 });
  const isDrawn = scene !== undefined;
  useEffect(() => {
    if (!fit || !isDrawn || box.current === null) return;
    const watch = new ResizeObserver((entries) => setRoom(entries[0]?.contentRect ?? { width: 1000, height: 1000 }));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [fit, isDrawn]);
  useEffect(() => {
    if (scene !== undefined) onScene?.(scene);
  }, [scene, onScene]);
  const follow = red === undefined || red === "" ? selected : red;
  useEffect(() => {
    if (follow === undefined || scene === undefined || box.current === null) return;
    const target = box.current.querySelector(`[data-hit="place:${CSS.escape(follow)}"], [data-hit="link:${CSS.escape(follow)}"]`);
    target?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [follow, scene]);
  if (layout.failed !== undefined) return <Waiting role="alert">The drawing could not be laid out: {layout.failed}</Waiting>;
  if (scene === undefined) return <Waiting>Drawing the circuit …</Waiting>;
  return (
    <Scroll ref={box} {...pan}>
      <SceneView
        scene={scene}
        zoom={fit ? Math.min(1, Math.max(LEAST_ZOOM, Math.min((room.width - 16) / scene.width, (room.height - 4) / scene.height))) : zoom}
        {...(onPick === undefined ? {} : { onPick })}
      />
    </Scroll>
  );
}
