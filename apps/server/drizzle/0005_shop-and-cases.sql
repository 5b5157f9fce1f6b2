CREATE TABLE "shop" (
	"id" integer PRIMARY KEY NOT NULL,
	"settings" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "removed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "hours_open" real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "case_text" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "case_words" "tsvector" GENERATED ALWAYS AS (to_tsvector('english', "case_text")) STORED;--> statement-breakpoint
CREATE INDEX "jobs_by_case" ON "jobs" USING gin ("case_words");--> statement-breakpoint
CREATE OR REPLACE FUNCTION log_append(new_rows jsonb, changed jsonb, channel text, told text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO events (id, job_id, "position", type, at, "by", data, hash)
    SELECT r.id, r."jobId", r."position", r.type, r.at, r."by", r.data, r.hash
    FROM jsonb_to_recordset(new_rows) AS r(id uuid, "jobId" uuid, "position" integer, type text, at timestamptz, "by" text, data jsonb, hash text);
  UPDATE jobs SET digest = v.digest, digest_version = v."digestVersion", vehicle = v.vehicle, registration = v.registration, words = v.words, stage = v.stage,
      opened_by = v."openedBy", opened_at = v."openedAt", last_at = v."lastAt", left_undone = v."leftUndone", whose = v.whose, search = v.search, case_text = v."caseText",
      hours_open = v."hoursOpen"
    FROM jsonb_to_recordset(changed) AS v(id uuid, digest jsonb, "digestVersion" integer, vehicle text, registration text, words text, stage text, "openedBy" text,
      "openedAt" timestamptz, "lastAt" timestamptz, "leftUndone" integer, whose text, search text, "caseText" text, "hoursOpen" real)
    WHERE jobs.id = v.id;
  PERFORM pg_notify(channel, told);
END $$;
