import { useEffect, useMemo, useRef } from "react";
import { styled } from "styled-components";
import type { Harness } from "@rheonom/core/harness";
import type { Hit } from "@rheonom/drawing/scene";
import { drawSlice, type SliceOptions } from "@rheonom/drawing/slice";
import { useLayout } from "../worker/use-model.ts";
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

export interface SliceViewProps extends SliceOptions {
  readonly harness: Harness;
  readonly onPick?: (hit: Hit) => void;
  readonly zoom?: number;
}

/** The circuit laid out feed at the top, return at the bottom. Scrolls so that what is selected stays in sight. */
export function SliceView({ harness, onPick, zoom = 1, state, volts, suspects, notes, selected, red, black }: SliceViewProps) {
  const layout = useLayout(harness);
  const box = useRef<HTMLDivElement>(null);
  const graph = layout.value;
  const scene = useMemo(
    () => (graph === undefined ? undefined : drawSlice(harness, graph, { state, volts, suspects, notes, selected, red, black })),
    [harness, graph, state, volts, suspects, notes, selected, red, black],
  );
  const follow = red === undefined || red === "" ? selected : red;
  useEffect(() => {
    if (follow === undefined || scene === undefined || box.current === null) return;
    const target = box.current.querySelector(`[data-hit="place:${CSS.escape(follow)}"], [data-hit="link:${CSS.escape(follow)}"]`);
    target?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [follow, scene]);
  if (layout.failed !== undefined) return <Waiting role="alert">The drawing could not be laid out: {layout.failed}</Waiting>;
  if (scene === undefined) return <Waiting>Drawing the circuit …</Waiting>;
  return (
    <Scroll ref={box}>
      <SceneView scene={scene} zoom={zoom} {...(onPick === undefined ? {} : { onPick })} />
    </Scroll>
  );
}
