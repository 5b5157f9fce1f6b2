import { and, asc, desc, eq, max, sql } from "drizzle-orm";
import { harnessCounts, type HarnessVersion, type VehicleSummary, type VehicleVersions } from "@rheonom/contract/light";
import { AppError } from "../errors.ts";
import type { NewVersion } from "./harness-row.ts";
import { diskFull, type OpenStore } from "./open.ts";
import { harnessVersions, vehicles } from "./schema.ts";

export interface VehicleStore {
  readonly list: () => Promise<VehicleSummary[]>;
  /** Throws AppError vehicle-not-found. */
  readonly versions: (id: string) => Promise<VehicleVersions>;
  /** The wiring as JSON in UTF-8. Throws AppError vehicle-not-found or version-not-found. */
  readonly read: (id: string, version: number) => Promise<Uint8Array>;
  /** Adds a version and gives its number. Throws AppError version-stale when another version came in between, and disk-full. */
  readonly add: (id: string, next: NewVersion) => Promise<number>;
}

/** Everything about a version but the wiring itself, which is large. */
const HEAD = {
  vehicleId: harnessVersions.vehicleId,
  version: harnessVersions.version,
  at: harnessVersions.at,
  by: harnessVersions.by,
  note: harnessVersions.note,
  name: harnessVersions.name,
  counts: harnessVersions.counts,
};
type Head = Omit<typeof harnessVersions.$inferSelect, "harness">;
const headOf = (row: Head): HarnessVersion => ({
  version: row.version,
  at: new Date(row.at).toISOString(),
  by: row.by,
  note: row.note,
  name: row.name,
  counts: harnessCounts.parse(row.counts),
});

export function createVehicleStore({ db, room }: Pick<OpenStore, "db" | "room">): VehicleStore {
  return {
    async list() {
      const all = await db.select().from(vehicles).orderBy(asc(vehicles.id));
      const heads = await db.select(HEAD).from(harnessVersions).orderBy(asc(harnessVersions.version));
      return all.flatMap((v) => {
        const own = heads.filter((h) => h.vehicleId === v.id);
        const latest = own.at(-1);
        return latest === undefined ? [] : [{ id: v.id, demo: v.demo, latest: headOf(latest), versions: own.length }];
      });
    },
    async versions(id) {
      const [vehicle] = await db.select().from(vehicles).where(eq(vehicles.id, id));
      if (vehicle === undefined) throw new AppError("vehicle-not-found", { id });
      const heads = await db
        .select(HEAD)
        .from(harnessVersions)
        .where(eq(harnessVersions.vehicleId, id))
        .orderBy(desc(harnessVersions.version));
      return { id, demo: vehicle.demo, versions: heads.map(headOf) };
    },
    async read(id, version) {
      const where = and(eq(harnessVersions.vehicleId, id), eq(harnessVersions.version, version));
      const [row] = await db
        .select({ json: sql<string>`${harnessVersions.harness}::text` })
        .from(harnessVersions)
        .where(where);
      if (row !== undefined) return new TextEncoder().encode(row.json);
      const [vehicle] = await db.select().from(vehicles).where(eq(vehicles.id, id));
      throw vehicle === undefined
        ? new AppError("vehicle-not-found", { id })
        : new AppError("version-not-found", { id, version: String(version) });
    },
    async add(id, next) {
      const space = room?.();
      if (space !== undefined && space.free < space.needed) throw diskFull(space);
      return db.transaction(async (tx) => {
        if (next.basedOn === 0)
          await tx
            .insert(vehicles)
            .values({ id, demo: next.demo ?? false })
            .onConflictDoNothing();
        // The row lock makes looking and adding one step on a server with many clients.
        const [vehicle] = await tx.select().from(vehicles).where(eq(vehicles.id, id)).for("update");
        if (vehicle === undefined) throw new AppError("vehicle-not-found", { id });
        const [row] = await tx
          .select({ latest: max(harnessVersions.version) })
          .from(harnessVersions)
          .where(eq(harnessVersions.vehicleId, id));
        const latest = row?.latest ?? 0;
        if (latest !== next.basedOn) throw new AppError("version-stale", { id, latest: String(latest), basedOn: String(next.basedOn) });
        await tx.insert(harnessVersions).values({
          vehicleId: id,
          version: latest + 1,
          at: next.at.toISOString(),
          by: next.by,
          note: next.note,
          name: next.name,
          counts: next.counts,
          harness: sql`${next.json}::json`,
        });
        return latest + 1;
      });
    },
  };
}
