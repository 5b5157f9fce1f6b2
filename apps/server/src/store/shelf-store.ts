import { isDeepStrictEqual } from "node:util";
import { and, asc, count, eq, sql } from "drizzle-orm";
import { knownGoodItem, leadsKey, MOST_ON_SHELF, type KnownGood } from "@rheonom/core/job";
import type { KnownGoodUser } from "@rheonom/contract/shelf";
import { AppError } from "../errors.ts";
import { diskFull, type OpenStore } from "./open.ts";
import { events, jobs, knownGoods } from "./schema.ts";

export interface ShelfStore {
  /** Of one family, at one place where that is given (`leadsKey`), oldest first; withdrawn ones too. */
  readonly list: (vehicle: string | undefined, place: string | undefined) => Promise<KnownGood[]>;
  /**
   * Puts items on the shelf and gives how many were new. One that is there stays as it is, but is withdrawn when the newcomer is. Throws AppError known-good-reused for one
   * that stands there with other contents, shelf-full and disk-full; then nothing is stored.
   */
  readonly put: (items: readonly KnownGood[]) => Promise<{ readonly added: number; readonly withdrawn: number }>;
  /** Throws AppError known-good-not-found. */
  readonly withdraw: (id: string, why: NonNullable<KnownGood["withdrawn"]>) => Promise<KnownGood>;
  /** Jobs that held something against it, latest first. */
  readonly users: (id: string) => Promise<KnownGoodUser[]>;
}

/** Users of an item that are named at most. */
const MOST_USERS = 200;

/** They tell the same, apart from where they come from and whether they are withdrawn. */
const isSame = (a: KnownGood, b: KnownGood): boolean =>
  isDeepStrictEqual(a, { ...b, withdrawn: a.withdrawn, from: a.from, jobId: a.jobId });

export function createShelfStore({ db, room }: Pick<OpenStore, "db" | "room">): ShelfStore {
  return {
    async list(vehicle, place) {
      const where = and(
        vehicle === undefined ? undefined : eq(knownGoods.vehicle, vehicle),
        place === undefined ? undefined : eq(knownGoods.place, place),
      );
      const rows = await db
        .select({ item: knownGoods.item })
        .from(knownGoods)
        .where(where)
        .orderBy(asc(knownGoods.at), asc(knownGoods.id))
        .limit(MOST_ON_SHELF);
      return rows.map((r) => knownGoodItem.parse(r.item));
    },
    async put(items) {
      const space = room?.();
      if (space !== undefined && space.free < space.needed) throw diskFull(space);
      return db.transaction(async (tx) => {
        let [added, withdrawn] = [0, 0];
        for (const item of items) {
          const [row] = await tx.select({ item: knownGoods.item }).from(knownGoods).where(eq(knownGoods.id, item.id));
          if (row === undefined) {
            await tx.insert(knownGoods).values({ id: item.id, vehicle: item.vehicle, place: leadsKey(item.leads), at: item.at, item });
            added++;
            continue;
          }
          const known = knownGoodItem.parse(row.item);
          if (!isSame(known, knownGoodItem.parse(item))) throw new AppError("known-good-reused", { id: item.id });
          if (known.withdrawn !== null || item.withdrawn === null) continue;
          await tx
            .update(knownGoods)
            .set({ item: { ...known, withdrawn: item.withdrawn } })
            .where(eq(knownGoods.id, item.id));
          withdrawn++;
        }
        const [all] = await tx.select({ n: count() }).from(knownGoods);
        if (Number(all?.n ?? 0) > MOST_ON_SHELF) throw new AppError("shelf-full", { most: String(MOST_ON_SHELF) });
        return { added, withdrawn };
      });
    },
    async withdraw(id, why) {
      return db.transaction(async (tx) => {
        const [row] = await tx.select({ item: knownGoods.item }).from(knownGoods).where(eq(knownGoods.id, id)).for("update");
        if (row === undefined) throw new AppError("known-good-not-found", { id });
        const known = knownGoodItem.parse(row.item);
        if (known.withdrawn !== null) return known;
        const next: KnownGood = { ...known, withdrawn: why };
        await tx.update(knownGoods).set({ item: next }).where(eq(knownGoods.id, id));
        return next;
      });
    },
    async users(id) {
      const rows = await db
        .select({
          jobId: jobs.id,
          vehicle: jobs.vehicle,
          registration: jobs.registration,
          words: jobs.words,
          at: events.at,
          by: events.by,
          what: sql<string>`${events.data}->>'what'`,
        })
        .from(events)
        .innerJoin(jobs, eq(events.jobId, jobs.id))
        .where(and(eq(events.type, "known-good-used"), sql`${events.data}->'items' @> to_jsonb(${id}::text)`))
        .orderBy(sql`${events.at} desc`)
        .limit(MOST_USERS);
      return rows.map((r) => ({ ...r, at: new Date(r.at).toISOString() }));
    },
  };
}
