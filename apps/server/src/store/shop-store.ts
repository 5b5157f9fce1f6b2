import { eq } from "drizzle-orm";
import { shopSettings, USUAL_SHOP, type ShopSettings } from "@rheonom/contract/shop";
import type { Database } from "./open.ts";
import { shop } from "./schema.ts";

export interface ShopStore {
  /** The shop's settings; the usual ones for what was never set. */
  readonly read: () => Promise<ShopSettings>;
  readonly keep: (settings: ShopSettings) => Promise<void>;
}

/** There is one shop. */
const THE_SHOP = 1;

/** The shop's own settings in the database. */
export function createShopStore(db: Database): ShopStore {
  return {
    async read() {
      const [row] = await db.select().from(shop).where(eq(shop.id, THE_SHOP));
      return shopSettings.safeParse({ ...USUAL_SHOP, ...(row?.settings ?? {}) }).data ?? USUAL_SHOP;
    },
    async keep(settings) {
      await db.insert(shop).values({ id: THE_SHOP, settings }).onConflictDoUpdate({ target: shop.id, set: { settings } });
    },
  };
}
