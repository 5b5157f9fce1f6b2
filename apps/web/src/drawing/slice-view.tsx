import { useEffect, useMemo, useRef, type DOMAttributes, type RefObject } from "react";
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

/** The target of a place, a link or, of a part without a link of its own, one of its places. */
function hitIn(box: HTMLElement, name: string): Element | undefined {
  const id = CSS.escape(name);
  return (
    box.querySelector(`[data-hit="link:${id}"], [data-hit="place:${id}"]`) ??
    box.querySelector(`[data-hit^="link:${id}."], [data-hit^="place:${id}."]`) ??
    undefined
  );
}

/** How far from the edge of the room something is brought at least, px. */
const CLEAR = 12;

/** Scrolls the drawing's own room and nothing around it: to its middle, or as little as it takes. */
function bringIntoSight(box: HTMLElement, target: Element, toMiddle: boolean): void {
  const [room, at] = [box.getBoundingClientRect(), target.getBoundingClientRect()];
  const by = (from: number, to: number, low: number, high: number): number => {
    if (toMiddle) return (from + to) / 2 - (low + high) / 2;
    return from < low + CLEAR ? from - low - CLEAR : to > high - CLEAR ? to - high + CLEAR : 0;
  };
  box.scrollBy(by(at.left, at.right, room.left, room.right), by(at.top, at.bottom, room.top, room.bottom));
}

export interface SliceViewProps extends SliceOptions {
  readonly harness: Harness;
  /** The vehicle that the drawn part was cut from. */
  readonly whole?: Harness | undefined;
  /** Told of the drawing whenever it changes, for taking it along. */
  readonly onScene?: (scene: Scene) => void;
  readonly onPick?: (hit: Hit) => void;
  readonly zoom?: number;
  /** What a drawing larger than its room opens with in the middle, unless something is selected. */
  readonly middle?: string | undefined;
}

/** The circuit laid out feed at the top, return at the bottom. Scrolls so that what is selected stays in sight. */
export function SliceView({
  harness,
  whole,
  onScene,
  onPick,
  zoom = 1,
  middle,
  state,
  volts,
  suspects,
  notes,
  selected,
  red,
  black,
  ghosts,
  muted,
}: SliceViewProps) {
  const layout = useLayout(harness, whole ?? harness);
  const box = useRef<HTMLDivElement>(null);
  const graph = layout.value;
  const scene = useMemo(
    () =>
      graph === undefined
        ? undefined
        : drawSlice(harness, graph, {
            ...{ state, volts, suspects, notes, selected, red, black },
            ...(ghosts === undefined ? {} : { ghosts }),
            ...(muted === undefined ? {} : { muted }),
          }),
    [harness, graph, state, volts, suspects, notes, selected, red, black, ghosts, muted],
  );
  const pan = useDragPan(box);
  useEffect(() => {
    if (scene !== undefined) onScene?.(scene);
  }, [scene, onScene]);
  const was = useRef<{ readonly graph?: unknown; readonly red?: string | undefined; readonly selected?: string | undefined }>({});
  useEffect(() => {
    if (graph === undefined || box.current === null) return;
    const before = was.current;
    was.current = { graph, red, selected };
    const isNew = before.graph !== graph;
    const lead = red === "" ? undefined : red;
    // What has just changed is brought into sight; a new drawing opens with what it is about.
    const target = isNew ? (selected ?? lead ?? middle) : selected !== before.selected ? selected : lead !== before.red ? lead : undefined;
    const found = target === undefined ? undefined : hitIn(box.current, target);
    if (found !== undefined) bringIntoSight(box.current, found, isNew);
  }, [graph, red, selected, middle, scene]);
  if (layout.failed !== undefined) return <Waiting role="alert">The drawing could not be laid out: {layout.failed}</Waiting>;
  if (scene === undefined) return <Waiting>Drawing the circuit …</Waiting>;
  return (
    <Scroll ref={box} {...pan}>
      <SceneView scene={scene} zoom={zoom} {...(onPick === undefined ? {} : { onPick })} />
    </Scroll>
  );
}
