import elk, { type ElkNode } from "elkjs/lib/elk.bundled.js";
import type { Harness } from "@rheonom/core/harness";
import { sliceGraph, type LayoutGraph } from "@rheonom/drawing/slice";

// The package is CommonJS: bundled it is the class, under Node's own loader the class is its `default`.
const Elk = "default" in elk ? (elk.default as unknown as typeof elk) : elk;
let engine: InstanceType<typeof Elk> | undefined;

/** Positions of a circuit's drawing. Takes 50–300 ms of this thread for the circuits of a job. */
export async function layoutSlice(harness: Harness, whole: Harness = harness): Promise<LayoutGraph> {
  engine ??= new Elk();
  // The engine writes the positions into the graph it was given and hands it back.
  return (await engine.layout(sliceGraph(harness, whole) as ElkNode)) as LayoutGraph;
}
