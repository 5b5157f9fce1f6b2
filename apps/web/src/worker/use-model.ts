import { useEffect, useState } from "react";
import { wrap, type Remote } from "comlink";
import Elk, { type ElkNode } from "elkjs/lib/elk-api.js";
import elkWorkerUrl from "elkjs/lib/elk-worker.min.js?url";
import type { Harness } from "@rheonom/core/harness";
import type { ParseResult } from "@rheonom/core/notation";
import { MAX_DRAWN_PARTS, sliceGraph, type LayoutGraph } from "@rheonom/drawing/slice";
import type { ModelHost } from "./model.worker.ts";

/** The worker that holds the model. One for the page, started with it, so that it is warm when it is needed. */
export const model: Remote<ModelHost> = wrap<ModelHost>(new Worker(new URL("./model.worker.ts", import.meta.url), { type: "module" }));

const elk = new Elk({ workerFactory: () => new Worker(elkWorkerUrl) });

export interface Computed<T> {
  /** The latest result; an older one stays while a newer one is made. */
  readonly value: T | undefined;
  readonly busy: boolean;
  readonly failed: string | undefined;
}

/**
 * Runs `compute` whenever `key` changes and keeps the last result meanwhile. Equal keys must mean equal results; an undefined
 * key clears the result.
 */
export function useComputed<T>(key: unknown, compute: () => Promise<T>): Computed<T> {
  const [state, setState] = useState<{ readonly key: unknown; readonly value: T | undefined; readonly failed: string | undefined }>({
    key: undefined,
    value: undefined,
    failed: undefined,
  });
  useEffect(() => {
    if (key === undefined) return;
    let stale = false;
    compute().then(
      (value) => !stale && setState({ key, value, failed: undefined }),
      (error: unknown) =>
        !stale && setState((s) => ({ key, value: s.value, failed: error instanceof Error ? error.message : String(error) })),
    );
    return () => {
      stale = true;
    };
    // The key stands for everything that compute reads.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  if (key === undefined) return { value: undefined, busy: false, failed: undefined };
  return { value: state.value, busy: state.key !== key, failed: state.failed };
}

export const useParsed = (text: string | undefined): Computed<ParseResult> => useComputed(text, () => model.parse(text ?? ""));

const layouts = new WeakMap<Harness, Promise<LayoutGraph>>();

/** Positions of a circuit's drawing, made once for each harness. `whole`: the vehicle that it was cut from. */
function layOut(harness: Harness, whole: Harness): Promise<LayoutGraph> {
  const known = layouts.get(harness);
  if (known !== undefined) return known;
  const parts = harness.components.length;
  if (parts > MAX_DRAWN_PARTS) {
    return Promise.reject(
      new RangeError(
        `the circuit has ${parts} parts, and up to ${MAX_DRAWN_PARTS} are drawn. Tracing works all the same; type the lead places.`,
      ),
    );
  }
  const made = elk.layout(sliceGraph(harness, whole) as ElkNode).then((g) => g as LayoutGraph);
  layouts.set(harness, made);
  return made;
}

export const useLayout = (harness: Harness | undefined, whole: Harness | undefined = harness): Computed<LayoutGraph> =>
  useComputed(harness, () =>
    harness === undefined || whole === undefined ? Promise.reject(new RangeError("no circuit")) : layOut(harness, whole),
  );
