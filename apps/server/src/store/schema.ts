import { boolean, index, integer, json, jsonb, pgTable, primaryKey, serial, text, timestamp, uuid } from "drizzle-orm/pg-core";

/** A row per job: what does not change. All else is in the log. */
export const jobs = pgTable("jobs", {
  id: uuid("id").primaryKey(),
  createdAt: timestamp("created_at", { withTimezone: true }).notNull().defaultNow(),
  demo: boolean("demo").notNull().default(false),
  /** Faults that the stand-in vehicle of a demo job obeys; null for real jobs. */
  hiddenTruth: jsonb("hidden_truth"),
});

/** The append-only log. Rows are never updated or deleted. */
export const events = pgTable(
  "events",
  {
    /** Order of arrival; the order in which the log is read. */
    seq: serial("seq").primaryKey(),
    /** Made by the client, so that posting twice stores once. */
    id: uuid("id").notNull().unique(),
    jobId: uuid("job_id")
      .notNull()
      .references(() => jobs.id),
    type: text("type").notNull(),
    at: timestamp("at", { withTimezone: true, mode: "string" }).notNull(),
    by: text("by").notNull(),
    data: jsonb("data").notNull(),
    receivedAt: timestamp("received_at", { withTimezone: true }).notNull().defaultNow(),
    /** Version of the event's form, for later migrations. */
    version: integer("version").notNull().default(1),
  },
  (table) => [index("events_by_job").on(table.jobId, table.seq)],
);

/** A row per vehicle whose wiring the shop keeps. */
export const vehicles = pgTable("vehicles", {
  id: text("id").primaryKey(),
  createdAt: timestamp("created_at", { withTimezone: true }).notNull().defaultNow(),
  demo: boolean("demo").notNull().default(false),
});

/** The wiring of a vehicle. Versions are never updated or deleted, since jobs are pinned to them. */
export const harnessVersions = pgTable(
  "harness_versions",
  {
    vehicleId: text("vehicle_id")
      .notNull()
      .references(() => vehicles.id),
    version: integer("version").notNull(),
    at: timestamp("at", { withTimezone: true, mode: "string" }).notNull(),
    by: text("by").notNull(),
    note: text("note").notNull(),
    name: text("name").notNull(),
    counts: jsonb("counts").notNull(),
    /** As text, so that the order in which pins were written stays. */
    harness: json("harness").notNull(),
  },
  (table) => [primaryKey({ columns: [table.vehicleId, table.version] })],
);
