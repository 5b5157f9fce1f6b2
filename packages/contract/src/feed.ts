import { z } from "zod";

/** From the server to every open page, over the WebSocket /api/feed: a job's log has grown. `entries`: places of it that are taken. */
export const fromFeed = z.object({ type: z.literal("job"), id: z.string(), entries: z.number().int() });
export type FromFeed = z.infer<typeof fromFeed>;
