import express, { Router } from "express";
import { MOST_TRACE_BYTES, TRACE_TYPE, type KeptTrace } from "@rheonom/contract/shop";
import { AppError } from "../errors.ts";
import type { MediaStore } from "../media/media-store.ts";
import { bytesOf } from "./validate.ts";

/** A trace never changes: whoever has it keeps it. */
const FOR_EVER = "private, max-age=31536000, immutable";

export const traceBody = express.raw({ type: TRACE_TYPE, limit: MOST_TRACE_BYTES, inflate: false });

/** Recordings of scopes and loggers in and out, packed as they are stored. What is said of one is an entry of a job. */
export function traceRoutes(media: MediaStore): Router {
  const router = Router();
  router.post("/traces", async (request, response) => {
    response.status(201).json((await media.takeTrace(bytesOf(request))) satisfies KeptTrace);
  });
  router.get("/traces/:hash", async (request, response) => {
    const hash = String(request.params.hash);
    const bytes = await media.readTrace(hash);
    if (bytes === undefined) throw new AppError("trace-not-found", { hash: hash.slice(0, 64) });
    response.setHeader("Cache-Control", FOR_EVER);
    response.type(TRACE_TYPE).send(bytes);
  });
  return router;
}
