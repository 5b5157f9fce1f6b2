import { useCallback, useEffect, useRef } from "react";
import type { Remote } from "comlink";
import type { Shown } from "@rheonom/core/waveform";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";
import type { Sight } from "./scope-model.ts";

/** Columns that a trace is drawn with, and while it moves: coarser is enough for the eye then, and faster. */
const COLUMNS = 900;
const MOVING_COLUMNS = 360;
/** How long it rests before it is drawn in full and the rest of the screen is told, ms. */
const REST_MS = 150;

/** What is drawn: least and most of each column, channel after channel, and which samples they stand for. */
export interface Drawn {
  readonly envelopes: readonly Float32Array[];
  readonly from: number;
  readonly to: number;
}

export interface MovingSight {
  /** The sight as it is under the hand. */
  readonly live: () => Sight;
  /** Moves it while the hand does: drawn at once, told when it rests. */
  readonly move: (change: (s: Sight) => Sight) => void;
  /** Moves it and tells at once. */
  readonly put: (change: (s: Sight) => Sight) => void;
}

interface Moving {
  sight: Sight;
  isMoving: boolean;
  isAsking: boolean;
  isStale: boolean;
  rest: ReturnType<typeof setTimeout> | undefined;
}

/** Draws a trace as fast as the worker answers while it is zoomed and panned, without the screen around it; only the latest sight is fetched. */
export function useMovingSight(
  worker: Remote<BenchWorker>,
  shape: TraceShape,
  shown: readonly Shown[],
  sight: Sight,
  onSight: (change: (s: Sight) => Sight) => void,
  onDraw: (drawn: Drawn) => void,
): MovingSight {
  const moving = useRef<Moving>({ sight, isMoving: false, isAsking: false, isStale: false, rest: undefined });
  const draw = useRef(onDraw);
  useEffect(() => void (draw.current = onDraw), [onDraw]);
  const ask = useCallback(async (): Promise<void> => {
    const m = moving.current;
    m.isStale = true;
    if (m.isAsking) return;
    m.isAsking = true;
    try {
      while (m.isStale) {
        m.isStale = false;
        const { from, to } = m.sight;
        const envelopes = await worker.visible(from, to, Math.min(m.isMoving ? MOVING_COLUMNS : COLUMNS, to - from));
        draw.current({ envelopes, from, to });
      }
    } finally {
      m.isAsking = false;
    }
  }, [worker]);
  useEffect(() => void (moving.current.sight = sight), [sight]);
  const { from, to } = sight;
  useEffect(() => void ask(), [ask, shape, shown, from, to]);
  useEffect(() => {
    const m = moving.current;
    return () => clearTimeout(m.rest);
  }, []);
  const put = useCallback(
    (change: (s: Sight) => Sight): void => {
      const m = moving.current;
      clearTimeout(m.rest);
      m.isMoving = false;
      m.sight = change(m.sight);
      onSight(() => m.sight);
    },
    [onSight],
  );
  const move = useCallback(
    (change: (s: Sight) => Sight): void => {
      const m = moving.current;
      m.sight = change(m.sight);
      m.isMoving = true;
      clearTimeout(m.rest);
      m.rest = setTimeout(() => {
        put((s) => s);
        void ask();
      }, REST_MS);
      void ask();
    },
    [ask, put],
  );
  const live = useCallback((): Sight => moving.current.sight, []);
  return { live, move, put };
}
