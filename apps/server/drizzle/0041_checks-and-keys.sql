CREATE TABLE "keyings" (
	"id" integer PRIMARY KEY NOT NULL,
	"made_by" text DEFAULT '' NOT NULL,
	"aim" text DEFAULT '' NOT NULL,
	"cursor" integer
);
--> statement-breakpoint
ALTER TABLE "rating_scales" ADD COLUMN "check_cursor" integer;--> statement-breakpoint
ALTER TABLE "rating_scales" ADD COLUMN "checked_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "rating_scales" ADD COLUMN "wrong_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
INSERT INTO "keyings" ("id") VALUES (1);
--> statement-breakpoint
-- A sigma is one letter, whether it stands at the end of a word or not. The keys of people are made anew behind this.
UPDATE "tags" t SET "name_key" = replace("name_key", 'ς', 'σ') WHERE "name_key" LIKE '%ς%' AND NOT EXISTS (SELECT 1 FROM "tags" o WHERE o."name_key" = replace(t."name_key", 'ς', 'σ'));
--> statement-breakpoint
UPDATE "own_fields" f SET "label_key" = replace("label_key", 'ς', 'σ') WHERE "label_key" LIKE '%ς%' AND NOT EXISTS (SELECT 1 FROM "own_fields" o WHERE o."label_key" = replace(f."label_key", 'ς', 'σ'));
--> statement-breakpoint
UPDATE "topics" t SET "name_key" = replace("name_key", 'ς', 'σ') WHERE "name_key" LIKE '%ς%' AND NOT EXISTS (SELECT 1 FROM "topics" o WHERE o."name_key" = replace(t."name_key", 'ς', 'σ'));
--> statement-breakpoint
UPDATE "places" SET "key" = replace("key", 'ς', 'σ'), "region_key" = replace("region_key", 'ς', 'σ') WHERE "key" LIKE '%ς%' OR "region_key" LIKE '%ς%';
--> statement-breakpoint
UPDATE "place_countries" SET "key" = replace("key", 'ς', 'σ') WHERE "key" LIKE '%ς%';
