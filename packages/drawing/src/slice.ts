export type { LayoutGraph } from "./slice-graph.ts";
export { MAX_DRAWN_PARTS, sliceGraph } from "./slice-graph.ts";
export type { SliceOptions, Suspicion } from "./slice-scene.ts";
export { drawSlice, NO_SUSPECTS } from "./slice-scene.ts";
