import { Router } from "express";
import type { BundleTaken } from "@rheonom/contract/light";
import type { Heavy } from "../heavy/pool.ts";
import { AppError } from "../errors.ts";
import type { MediaStore } from "../media/media-store.ts";
import type { Store } from "../store/store.ts";
import { readJobId } from "./validate.ts";

/** A job as one file, out of this shop and into it. */
export function bundleRoutes(store: Store, heavy: Heavy, media: MediaStore, now: () => Date): Router {
  const router = Router();
  router.get("/jobs/:id/bundle.zip", async (request, response) => {
    const id = readJobId(request);
    const at = now().toISOString();
    const shop = { name: (await store.readShop()).name, mediaFolder: media.folder };
    const zip = await heavy.run("writeBundle", await store.readLog(id, 0), await store.readChained(id, at), at, shop);
    response.setHeader("Content-Disposition", `attachment; filename="rheonom-${id.slice(0, 8)}.zip"`);
    response.type("application/zip").send(Buffer.from(zip));
  });
  router.post("/bundles", async (request, response) => {
    if (!Buffer.isBuffer(request.body) || request.body.length === 0) throw new AppError("bundle-refused", { why: "it is empty" });
    const { jobId, events, pictures, traces } = await heavy.run("readBundle", new Uint8Array(request.body));
    // Pictures first: an entry never stands here without what it tells of, and they go again when the log is refused.
    const { takeBack } = await media.takeKept({ pictures, traces });
    const stored = await store.importLog(jobId, events).catch(async (error: unknown) => {
      await takeBack();
      throw error;
    });
    response.status(stored > 0 ? 201 : 200).json({ jobId, stored } satisfies BundleTaken);
  });
  return router;
}
