DROP INDEX "events_by_job";--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "position" integer;--> statement-breakpoint
UPDATE "events" SET "position" = placed."n" FROM (SELECT "seq", (row_number() OVER (PARTITION BY "job_id" ORDER BY "seq") - 1)::integer AS "n" FROM "events") AS placed WHERE "events"."seq" = placed."seq";--> statement-breakpoint
ALTER TABLE "events" ALTER COLUMN "position" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "quarantined" text;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "digest" jsonb;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "digest_version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "vehicle" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "registration" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "words" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "stage" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "opened_by" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "opened_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "last_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "left_undone" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "search" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "events_by_place" ON "events" USING btree ("job_id","position");--> statement-breakpoint
CREATE INDEX "jobs_by_last" ON "jobs" USING btree ("last_at" DESC NULLS LAST,"id" DESC NULLS LAST);--> statement-breakpoint
CREATE INDEX "jobs_by_vehicle" ON "jobs" USING btree ("vehicle","id");--> statement-breakpoint
CREATE INDEX "jobs_by_stage" ON "jobs" USING btree ("stage","id");--> statement-breakpoint
CREATE FUNCTION log_book(job_ids uuid[], event_ids uuid[]) RETURNS TABLE(kind text, item jsonb) LANGUAGE plpgsql AS $$
BEGIN
  -- The row locks make the check of a log and its growing one step on a server with many clients; taken in one order, so that two batches never wait for each other.
  RETURN QUERY WITH held AS (SELECT id, digest, digest_version FROM jobs WHERE id = ANY(job_ids) ORDER BY id FOR UPDATE)
    SELECT 'job', jsonb_build_object('id', id, 'digest', digest, 'digestVersion', digest_version) FROM held;
  RETURN QUERY SELECT 'event', jsonb_build_object('id', e.id, 'jobId', e.job_id, 'position', e.position, 'type', e.type, 'at', e.at, 'by', e."by", 'data', e.data,
    'receivedAt', e.received_at) FROM events e WHERE e.id = ANY(event_ids);
END $$;--> statement-breakpoint
CREATE FUNCTION log_append(new_rows jsonb, changed jsonb, channel text, told text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO events (id, job_id, "position", type, at, "by", data)
    SELECT r.id, r."jobId", r."position", r.type, r.at, r."by", r.data
    FROM jsonb_to_recordset(new_rows) AS r(id uuid, "jobId" uuid, "position" integer, type text, at timestamptz, "by" text, data jsonb);
  UPDATE jobs SET digest = v.digest, digest_version = v."digestVersion", vehicle = v.vehicle, registration = v.registration, words = v.words, stage = v.stage,
      opened_by = v."openedBy", opened_at = v."openedAt", last_at = v."lastAt", left_undone = v."leftUndone", search = v.search
    FROM jsonb_to_recordset(changed) AS v(id uuid, digest jsonb, "digestVersion" integer, vehicle text, registration text, words text, stage text, "openedBy" text,
      "openedAt" timestamptz, "lastAt" timestamptz, "leftUndone" integer, search text)
    WHERE jobs.id = v.id;
  PERFORM pg_notify(channel, told);
END $$;