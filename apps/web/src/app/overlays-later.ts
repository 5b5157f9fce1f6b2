import type * as Overlays from "./overlays.ts";

/** Help, palette, name and messages, fetched once. */
export const overlays = (): Promise<typeof Overlays> => import("./overlays.ts");
