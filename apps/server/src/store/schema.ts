import { sql } from "drizzle-orm";
import {
  boolean,
  customType,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from "drizzle-orm/pg-core";

const tsvector = customType<{ data: string }>({ dataType: () => "tsvector" });

/**
 * A row per job: what does not change, and what its log says of it so far, written in the transaction that appends. The columns after `digest` are what the board shows,
 * sorts and searches.
 */
export const jobs = pgTable(
  "jobs",
  {
    id: uuid("id").primaryKey(),
    createdAt: timestamp("created_at", { withTimezone: true }).notNull().defaultNow(),
    demo: boolean("demo").notNull().default(false),
    /** Faults that the stand-in vehicle of a demo job obeys; null for real jobs. */
    hiddenTruth: jsonb("hidden_truth"),
    /** The fold of the log as far as the next event needs it; null before the first. */
    digest: jsonb("digest"),
    /** Version of the digest's form; another than the program's is made anew from the log. */
    digestVersion: integer("digest_version").notNull().default(0),
    vehicle: text("vehicle").notNull().default(""),
    registration: text("registration").notNull().default(""),
    words: text("words").notNull().default(""),
    stage: text("stage").notNull().default(""),
    openedBy: text("opened_by").notNull().default(""),
    openedAt: timestamp("opened_at", { withTimezone: true, mode: "string" }),
    lastAt: timestamp("last_at", { withTimezone: true, mode: "string" }),
    leftUndone: integer("left_undone").notNull().default(0),
    /** Whose job it is. */
    whose: text("whose").notNull().default(""),
    /** Hours of work that are still to be done. */
    hoursOpen: real("hours_open").notNull().default(0),
    /** What stands on its bench and is no entry: the state that the vehicle is in, the load in question, the next test; null before anything did. */
    bench: jsonb("bench"),
    /** All that is searched, in small letters. */
    search: text("search").notNull().default(""),
    /** What a closed job is found by as a similar case; "" while it is open. */
    caseText: text("case_text").notNull().default(""),
    caseWords: tsvector("case_words").generatedAlwaysAs(sql`to_tsvector('english', "case_text")`),
  },
  (table) => [
    index("jobs_by_last").on(table.lastAt.desc(), table.id.desc()),
    index("jobs_by_vehicle").on(table.vehicle, table.id),
    index("jobs_by_stage").on(table.stage, table.id),
    index("jobs_by_case").using("gin", table.caseWords),
  ],
);

/** The append-only log. No row is deleted, and what one says is never changed but for one thing: what tells whose vehicle it is, when the shop may keep it no longer. */
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
    /** Place in the log of its job, from 0. */
    position: integer("position").notNull(),
    type: text("type").notNull(),
    at: timestamp("at", { withTimezone: true, mode: "string" }).notNull(),
    by: text("by").notNull(),
    data: jsonb("data").notNull(),
    receivedAt: timestamp("received_at", { withTimezone: true }).notNull().defaultNow(),
    /** Version of the event's form, for later migrations. */
    version: integer("version").notNull().default(1),
    /** SHA-256 over the hash of the entry before it and its own content; "" for entries of before there was a chain. */
    hash: text("hash").notNull().default(""),
    /** Why it was set aside by hand; null while it stands in the log. */
    quarantined: text("quarantined"),
    /** When what tells whose vehicle it is was taken out of it: its hash is of what it said before. */
    removedAt: timestamp("removed_at", { withTimezone: true, mode: "string" }),
  },
  (table) => [uniqueIndex("events_by_place").on(table.jobId, table.position)],
);

/** The shop's own settings: one row. */
export const shop = pgTable("shop", {
  id: integer("id").primaryKey(),
  settings: jsonb("settings").notNull(),
});

/** What good vehicles showed, by place. A row is never deleted: one that was wrong is withdrawn. */
export const knownGoods = pgTable(
  "known_goods",
  {
    id: uuid("id").primaryKey(),
    vehicle: text("vehicle").notNull(),
    /** Where: "volts C5.3 BAT.-". */
    place: text("place").notNull(),
    at: timestamp("at", { withTimezone: true, mode: "string" }).notNull(),
    item: jsonb("item").notNull(),
  },
  (table) => [index("known_goods_by_place").on(table.vehicle, table.place)],
);

/** What practice jobs came to, each when its debrief was first looked at: what is changed later counts for nothing. */
export const practiceResults = pgTable(
  "practice_results",
  {
    jobId: uuid("job_id")
      .primaryKey()
      .references(() => jobs.id),
    by: text("by").notNull(),
    at: timestamp("at", { withTimezone: true, mode: "string" }).notNull(),
    item: jsonb("item").notNull(),
  },
  (table) => [index("practice_by_person").on(table.by, table.at)],
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
