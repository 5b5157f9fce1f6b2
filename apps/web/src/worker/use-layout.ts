import { useEffect, useState } from "react";
import Elk, { type ElkNode } from "elkjs/lib/elk-api.js";
import elkWorkerUrl from "elkjs/lib/elk-worker.min.js?url";
import type { Harness } from "@rheonom/core/harness";
import { MAX_DRAWN_PARTS, sliceGraph, type LayoutGraph } from "@rheonom/drawing/slice";
import type { Computed } from "./use-query.ts";

const elk = new Elk({ workerFactory: () => new Worker(elkWorkerUrl) });

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

/** Lays a circuit out whenever it is another one; the last drawing stays meanwhile. */
export function useLayout(harness: Harness | undefined, whole: Harness | undefined = harness): Computed<LayoutGraph> {
  const [result, setResult] = useState<{ readonly of: Harness | undefined } & Omit<Computed<LayoutGraph>, "busy">>({
    of: undefined,
    value: undefined,
    failed: undefined,
  });
  useEffect(() => {
    if (harness === undefined || whole === undefined) return;
    let isStale = false;
    layOut(harness, whole).then(
      (value) => !isStale && setResult({ of: harness, value, failed: undefined }),
      (error: unknown) =>
        !isStale && setResult((r) => ({ of: harness, value: r.value, failed: error instanceof Error ? error.message : String(error) })),
    );
    return () => {
      isStale = true;
    };
  }, [harness, whole]);
  if (harness === undefined) return { value: undefined, busy: false, failed: undefined };
  return { value: result.value, busy: result.of !== harness, failed: result.failed };
}
