import { Router } from "express";
import { subMonths } from "date-fns/subMonths";
import {
  dueQuery,
  removeCustomers,
  SHOP_PATH,
  shopSettings,
  type DueList,
  type OldCustomers,
  type RemovedCustomers,
} from "@rheonom/contract/shop";
import { decimalsOf } from "@rheonom/core/repair";
import { AppError } from "../errors.ts";
import type { MediaStore } from "../media/media-store.ts";
import type { Store } from "../store/store.ts";
import { readBody, readQuery } from "./validate.ts";

const picturesOf = (old: readonly { readonly pictures: readonly string[] }[]): readonly string[] => [
  ...new Set(old.flatMap((job) => job.pictures)),
];

/** Things that are told as due at most. */
const MOST_DUE = 50;

/** The shop's settings, what is due in it, and how long it keeps whose vehicle it was. */
export function shopRoutes(store: Store, media: MediaStore, now: () => Date): Router {
  const router = Router();
  router.get(`/${SHOP_PATH}`, async (_request, response) => void response.json(await store.readShop()));
  router.put(`/${SHOP_PATH}`, async (request, response) => {
    const settings = readBody(shopSettings, request);
    if (decimalsOf(settings.currency) === undefined)
      throw new AppError("body-invalid", {}, [{ path: "currency", message: "is not a currency that is known here" }]);
    await store.keepShop(settings);
    response.json(settings);
  });
  router.get("/due", async (request, response) => {
    const { now: minute } = readQuery(dueQuery, request);
    const due = [...(await store.listDates(minute))].sort((p, q) => (p.on < q.on ? -1 : p.on > q.on ? 1 : 0));
    response.json({ due: due.slice(0, MOST_DUE) } satisfies DueList);
  });
  const limit = async (): Promise<{ readonly before: string; readonly months: number }> => {
    const { keepMonths } = await store.readShop();
    return { before: subMonths(now(), keepMonths).toISOString(), months: keepMonths };
  };
  router.get(`/${SHOP_PATH}/old-customers`, async (_request, response) => {
    const { before } = await limit();
    const old = await store.oldCustomers(before);
    response.json({ jobs: old.length, pictures: picturesOf(old).length, before } satisfies OldCustomers);
  });
  router.post(`/${SHOP_PATH}/old-customers/remove`, async (request, response) => {
    const { by, pictures: withPictures } = readBody(removeCustomers, request);
    const { before, months } = await limit();
    const found = await store.oldCustomers(before);
    const old = withPictures ? found : found.map(({ id }) => ({ id, pictures: [] }));
    const gone = picturesOf(old);
    // The pictures first: what is broken off in between is found again the next time, since the jobs still count as old.
    for (const hash of gone) await media.remove(hash);
    const entries = await store.removeCustomers(old, { by, at: now().toISOString(), months });
    response.json({ jobs: old.length, entries, pictures: gone.length } satisfies RemovedCustomers);
  });
  return router;
}
