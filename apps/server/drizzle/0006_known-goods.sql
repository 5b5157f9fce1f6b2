CREATE TABLE "known_goods" (
	"id" uuid PRIMARY KEY NOT NULL,
	"vehicle" text NOT NULL,
	"place" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"item" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "known_goods_by_place" ON "known_goods" USING btree ("vehicle","place");