CREATE TABLE "practice_results" (
	"job_id" uuid PRIMARY KEY NOT NULL,
	"by" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"item" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "practice_results" ADD CONSTRAINT "practice_results_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "practice_by_person" ON "practice_results" USING btree ("by","at");