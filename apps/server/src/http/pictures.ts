import express, { Router } from "express";
import { MOST_PICTURE_BYTES, PICTURE_TYPES, type KeptPicture } from "@rheonom/contract/shop";
import { AppError } from "../errors.ts";
import type { MediaStore } from "../media/media-store.ts";
import { bytesOf } from "./validate.ts";

/** A picture never changes: whoever has it keeps it. */
const FOR_EVER = "private, max-age=31536000, immutable";

export const pictureBody = express.raw({ type: [...PICTURE_TYPES], limit: MOST_PICTURE_BYTES, inflate: false });

/** Pictures in and out. What is said of one is an entry of a job. */
export function pictureRoutes(media: MediaStore): Router {
  const router = Router();
  router.post("/pictures", async (request, response) => {
    const body = bytesOf(request);
    if (body.length === 0) throw new AppError("picture-refused", { why: "It is empty." });
    response.status(201).json((await media.take(body)) satisfies KeptPicture);
  });
  for (const [path, size] of [
    ["/pictures/:hash", "whole"],
    ["/pictures/:hash/thumbnail", "thumbnail"],
  ] as const)
    router.get(path, async (request, response) => {
      const hash = String(request.params.hash);
      const bytes = await media.read(hash, size);
      if (bytes === undefined) throw new AppError("picture-not-found", { hash: hash.slice(0, 64) });
      response.setHeader("Cache-Control", FOR_EVER);
      response.type("image/jpeg").send(bytes);
    });
  return router;
}
