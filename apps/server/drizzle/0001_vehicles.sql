CREATE TABLE "harness_versions" (
	"vehicle_id" text NOT NULL,
	"version" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"by" text NOT NULL,
	"note" text NOT NULL,
	"name" text NOT NULL,
	"counts" jsonb NOT NULL,
	"harness" json NOT NULL,
	CONSTRAINT "harness_versions_vehicle_id_version_pk" PRIMARY KEY("vehicle_id","version")
);
--> statement-breakpoint
CREATE TABLE "vehicles" (
	"id" text PRIMARY KEY NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"demo" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
ALTER TABLE "harness_versions" ADD CONSTRAINT "harness_versions_vehicle_id_vehicles_id_fk" FOREIGN KEY ("vehicle_id") REFERENCES "public"."vehicles"("id") ON DELETE no action ON UPDATE no action;