export type { LayoutGraph } from "./slice-graph.ts";
export { MAX_DRAWN_PARTS, sliceGraph } from "./slice-graph.ts";
export type { SliceOptions } from "./slice-scene.ts";
export { drawSlice } from "./slice-scene.ts";
