import { useEffect, useMemo, useRef, useState } from "react";
import { styled } from "styled-components";
import type { PathJudgement } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import type { Hit } from "@rheonom/drawing/scene";
import { drawStaircase } from "@rheonom/drawing/staircase";
import { SceneView } from "./scene-view.tsx";

const Scroll = styled.div`
  overflow-x: auto;
  overflow-y: hidden;
  @media print {
    overflow: visible;
    svg {
      max-width: 100%;
      height: auto;
    }
  }
`;

export interface StaircaseViewProps {
  readonly harness: Harness;
  readonly trace: PathJudgement;
  readonly height: number;
  readonly scale: "ends" | "even";
  readonly selected: string | undefined;
  readonly onPick?: (hit: Hit) => void;
}

/** The signature picture, as wide as its room. */
export function StaircaseView({ harness, trace, height, scale, selected, onPick }: StaircaseViewProps) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(640);
  useEffect(() => {
    if (box.current === null) return;
    const watch = new ResizeObserver((entries) => setWidth(Math.max(280, Math.floor(entries[0]?.contentRect.width ?? 640))));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const scene = useMemo(
    () => drawStaircase(harness, trace, { width, height, scale, selected }),
    [harness, trace, width, height, scale, selected],
  );
  // Where it is wider than its room, and nothing in it takes the focus, the arrow keys move it.
  const scrolls =
    onPick === undefined && scene.width > width ? ({ tabIndex: 0, role: "region", "aria-label": "Voltages along the path" } as const) : {};
  return (
    <Scroll ref={box} {...scrolls}>
      <SceneView scene={scene} {...(onPick === undefined ? {} : { onPick })} />
    </Scroll>
  );
}
