import { and, asc, desc, eq, max } from "drizzle-orm";
import { type Harness, harnessSchema, validateHarness } from "@rheonom/core/harness";
import { harnessCounts, type HarnessCounts, type HarnessVersion, type VehicleSummary, type VehicleVersions } from "@rheonom/contract/api";
import { AppError } from "../errors.ts";
import type { Database } from "./open.ts";
import { harnessVersions, vehicles } from "./schema.ts";

export interface NewVersion {
  readonly harness: Harness;
  /** The version it was made from; 0 for a new vehicle. */
  readonly basedOn: number;
  readonly by: string;
  readonly note: string;
  readonly at: Date;
  readonly demo?: boolean;
}

export interface VehicleStore {
  readonly list: () => Promise<VehicleSummary[]>;
  /** Throws AppError vehicle-not-found. */
  readonly versions: (id: string) => Promise<VehicleVersions>;
  /** Throws AppError vehicle-not-found or version-not-found. */
  readonly read: (id: string, version: number) => Promise<Harness>;
  /**
   * Adds a version and gives its number. Throws AppError harness-invalid with every problem, and version-stale when another version came
   * in between.
   */
  readonly add: (id: string, next: NewVersion) => Promise<number>;
}

const countsOf = (h: Harness): HarnessCounts => ({
  wires: h.wires.length,
  parts: h.components.length,
  grounds: h.components.filter((c) => c.kind === "ground").length,
  fuses: h.components.filter((c) => c.kind === "fuse" || (c.kind === "device" && c.device === "relay")).length,
  modules: h.components.filter((c) => c.kind === "device" && c.device === "module").length,
});

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

export function createVehicleStore(db: Database): VehicleStore {
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
      const [row] = await db.select({ harness: harnessVersions.harness }).from(harnessVersions).where(where);
      if (row !== undefined) return harnessSchema.parse(row.harness);
      const [vehicle] = await db.select().from(vehicles).where(eq(vehicles.id, id));
      throw vehicle === undefined
        ? new AppError("vehicle-not-found", { id })
        : new AppError("version-not-found", { id, version: String(version) });
    },
    async add(id, next) {
      const errors = validateHarness(next.harness).filter((p) => p.severity === "error");
      if (errors.length > 0)
        throw new AppError(
          "harness-invalid",
          { count: String(errors.length) },
          errors.slice(0, 100).map((p) => ({ path: p.at, message: p.message })),
        );
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
          name: next.harness.name,
          counts: countsOf(next.harness),
          harness: next.harness,
        });
        return latest + 1;
      });
    },
  };
}
