import { useEffect, useState, type RefObject } from "react";
import type { Scene } from "@rheonom/drawing/scene";

/** Below this the labels cannot be read at arm's length. */
const LEAST_FITTING = 0.8;
const LEAST = 0.4;
const MOST = 2;
const STEP = 1.2;
/** Room that the frame takes, px. */
const FRAME = 18;

export interface Zoom {
  readonly zoom: number;
  readonly larger: () => void;
  readonly smaller: () => void;
  readonly fit: () => void;
}

/** How large a drawing is shown. Unless somebody has zoomed, a wide one shrinks to its room as far as it stays readable. */
export function useZoom(sheet: RefObject<HTMLElement | null>, scene: Scene | undefined): Zoom {
  const [chosen, setChosen] = useState<number | undefined>(undefined);
  const [room, setRoom] = useState({ width: 900, height: 600 });
  useEffect(() => {
    if (sheet.current === null) return;
    const watch = new ResizeObserver((entries) => setRoom(entries[0]?.contentRect ?? { width: 900, height: 600 }));
    watch.observe(sheet.current);
    return () => watch.disconnect();
  }, [sheet]);
  const fitting = scene === undefined ? 1 : Math.min((room.width - FRAME) / scene.width, (room.height - FRAME) / scene.height);
  const zoom = chosen ?? Math.min(1, Math.max(LEAST_FITTING, fitting));
  return {
    zoom,
    larger: () => setChosen(Math.min(MOST, zoom * STEP)),
    smaller: () => setChosen(Math.max(LEAST, zoom / STEP)),
    fit: () => setChosen(undefined),
  };
}
