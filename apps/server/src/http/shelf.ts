import { Router } from "express";
import {
  KNOWN_GOODS_PATH,
  knownGoodMeta,
  knownGoodQuery,
  withdrawKnownGood,
  type KnownGoodList,
  type KnownGoodUser,
  type ShelfTaken,
} from "@rheonom/contract/shelf";
import { uuid7 } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { MediaStore } from "../media/media-store.ts";
import type { Store } from "../store/store.ts";
import { bytesOf, readBody, readQuery } from "./validate.ts";

/** What good vehicles showed, by place: put there, found, withdrawn, and given to another shop. */
export function shelfRoutes(store: Store, heavy: Heavy, media: MediaStore, now: () => Date): Router {
  const router = Router();
  router.get(`/${KNOWN_GOODS_PATH}`, async (request, response) => {
    const { vehicle, place } = readQuery(knownGoodQuery, request);
    response.json({ items: await store.listKnownGoods(vehicle, place) } satisfies KnownGoodList);
  });
  router.post(`/${KNOWN_GOODS_PATH}`, async (request, response) => {
    const item = readBody(knownGoodMeta, request);
    if (item.trace !== undefined && (await media.readTrace(item.trace.hash)) === undefined)
      throw new AppError("trace-not-found", { hash: item.trace.hash });
    const { added } = await store.putKnownGoods([item]);
    response.status(added > 0 ? 201 : 200).json(item);
  });
  router.get(`/${KNOWN_GOODS_PATH}/file.zip`, async (request, response) => {
    const { vehicle } = readQuery(knownGoodQuery, request);
    const shop = { name: (await store.readShop()).name, mediaFolder: media.folder };
    const zip = await heavy.run("writeShelf", await store.listKnownGoods(vehicle, undefined), shop, now().toISOString());
    response.setHeader("Content-Disposition", `attachment; filename="rheonom-known-goods.zip"`);
    response.type("application/zip").send(Buffer.from(zip));
  });
  router.post(`/${KNOWN_GOODS_PATH}/file.zip`, async (request, response) => {
    const bytes = bytesOf(request);
    if (bytes.length === 0) throw new AppError("shelf-file-refused", { why: "it is empty" });
    const { items, traces } = await heavy.run("readShelf", new Uint8Array(bytes));
    // Recordings first: an item never stands here without its samples, and they go again when the list is refused.
    const { takeBack } = await media.takeKept({ pictures: {}, traces });
    const put = await store.putKnownGoods(items).catch(async (error: unknown) => {
      await takeBack();
      throw error;
    });
    response.json({ ...put, known: items.length - put.added - put.withdrawn } satisfies ShelfTaken);
  });
  router.post(`/${KNOWN_GOODS_PATH}/:id/withdraw`, async (request, response) => {
    const why = readBody(withdrawKnownGood, request);
    response.json(await store.withdrawKnownGood(idOf(String(request.params.id)), { ...why, at: now().toISOString() }));
  });
  router.get(`/${KNOWN_GOODS_PATH}/:id/users`, async (request, response) => {
    response.json({ users: await store.knownGoodUsers(idOf(String(request.params.id))) } satisfies { users: readonly KnownGoodUser[] });
  });
  return router;
}

function idOf(id: string): string {
  if (!uuid7.safeParse(id).success) throw new AppError("known-good-not-found", { id: id.slice(0, 60) });
  return id;
}
