CREATE TABLE "rating_courses" (
	"contact_id" integer PRIMARY KEY NOT NULL,
	"counted_at" timestamp with time zone NOT NULL,
	"points" smallint[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rating_scales" (
	"id" integer PRIMARY KEY NOT NULL,
	"scale" jsonb,
	"version" integer DEFAULT 1 NOT NULL,
	"cursor" integer,
	"counted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "rating" smallint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "band" text DEFAULT 'new';--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "rating_high" smallint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "rating_low" smallint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "rating_due" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "rating_courses" SET (fillfactor = 80);--> statement-breakpoint
-- Everybody is to be counted.
INSERT INTO "rating_scales" ("id", "cursor") VALUES (1, 0);
