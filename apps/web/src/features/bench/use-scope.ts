import { useCallback, useEffect, useState } from "react";
import { proxy, wrap, type Remote } from "comlink";
import { AS_IT_IS, type CsvForm, type Laying, type Measures, type Shown } from "@rheonom/core/waveform";
import type { BenchWorker, Opened } from "./bench.worker.ts";
import { wholeOf, windowOf, type Sight } from "./scope-model.ts";

/** Measuring millions of samples takes longer than drawing them: the picture has so long to be asked for, ms. */
const PICTURE_FIRST_MS = 60;

/** A trace that is open in the worker, and what the screen shows of it. */
export interface Scope {
  readonly opened: Opened | undefined;
  /** Share of the file that was read; undefined while nothing is. */
  readonly progress: number | undefined;
  readonly sight: Sight;
  readonly measures: readonly (Measures | undefined)[];
  readonly setSight: (change: (s: Sight) => Sight) => void;
  readonly openFile: (file: File, said: Partial<CsvForm>) => void;
  readonly openKept: (packed: ArrayBuffer) => void;
  /** Lays a kept trace over the one that is open, or one channel of it. */
  readonly overlay: (packed: ArrayBuffer, name: string, only?: number) => void;
  /** Lays supposed traces over the one that is open. */
  readonly ghosts: (
    rateHz: number,
    laid: readonly { readonly name: string; readonly unit: string; readonly samples: Float32Array }[],
  ) => void;
  /** Lays over what is left of the second channel once the first is taken from it. */
  readonly difference: (first: number, second: number, factors: readonly number[], unit: string, laying: Laying) => void;
  /** How each channel is shown. */
  readonly shown: readonly Shown[];
  readonly show: (channel: number, how: Shown) => void;
  readonly worker: Remote<BenchWorker>;
}

const NOTHING: Sight = { from: 0, to: 1, a: 0, b: 0 };

export function useScope(): Scope {
  const [{ worker, thread }] = useState(() => {
    const made = new Worker(new URL("./bench.worker.ts", import.meta.url), { type: "module" });
    return { thread: made, worker: wrap<BenchWorker>(made) };
  });
  useEffect(() => () => thread.terminate(), [thread]);
  const [opened, setOpened] = useState<Opened | undefined>(undefined);
  const [progress, setProgress] = useState<number | undefined>(undefined);
  const [sight, setSight] = useState<Sight>(NOTHING);
  const [measures, setMeasures] = useState<readonly (Measures | undefined)[]>([]);
  const [shown, setShown] = useState<readonly Shown[]>([]);
  const take = useCallback((answer: Opened): void => {
    setShown(answer.kind === "open" ? answer.shape.channels.map(() => AS_IT_IS) : []);
    setProgress(undefined);
    setMeasures([]);
    setOpened(answer);
    if (answer.kind === "open") setSight(wholeOf(answer.shape.count));
  }, []);
  const failed = useCallback(
    (error: unknown): void => take({ kind: "refused", why: error instanceof Error ? error.message : String(error) }),
    [take],
  );
  const openFile = useCallback(
    (file: File, said: Partial<CsvForm>): void => {
      setProgress(0);
      worker
        .openFile(
          file,
          said,
          proxy((share: number) => setProgress(share)),
        )
        .then(take, failed);
    },
    [worker, take, failed],
  );
  const openKept = useCallback((packed: ArrayBuffer): void => void worker.openKept(packed).then(take, failed), [worker, take, failed]);
  const laidOver = useCallback((answer: Opened): void => {
    setShown(answer.kind === "open" ? answer.shape.channels.map(() => AS_IT_IS) : []);
    setOpened(answer);
  }, []);
  const overlay = useCallback(
    (packed: ArrayBuffer, name: string, only?: number): void => void worker.overlay(packed, name, only).then(laidOver, failed),
    [worker, laidOver, failed],
  );
  const ghosts = useCallback<Scope["ghosts"]>(
    (rateHz, laid) => void worker.ghosts(rateHz, laid).then(laidOver, failed),
    [worker, laidOver, failed],
  );
  const difference = useCallback<Scope["difference"]>(
    (first, second, factors, unit, laying) => void worker.difference(first, second, factors, unit, laying).then(laidOver, failed),
    [worker, laidOver, failed],
  );
  const show = useCallback(
    (channel: number, how: Shown): void =>
      void worker.show(channel, how).then(() => setShown((all) => all.map((s, k) => (k === channel ? how : s))), failed),
    [worker, failed],
  );
  const shape = opened?.kind === "open" ? opened.shape : undefined;
  const { a, b } = sight;
  useEffect(() => {
    if (shape === undefined) return;
    let over = false;
    const [begin, end] = windowOf({ from: 0, to: 0, a, b }, shape.count);
    const measure = (): void => void worker.measures(begin, end).then((m) => over || setMeasures(m));
    // What is drawn is asked for first.
    const timer = setTimeout(measure, PICTURE_FIRST_MS);
    return () => {
      clearTimeout(timer);
      over = true;
    };
  }, [worker, shape, shown, a, b]);
  return { opened, progress, sight, measures, setSight, openFile, openKept, overlay, ghosts, difference, shown, show, worker };
}
