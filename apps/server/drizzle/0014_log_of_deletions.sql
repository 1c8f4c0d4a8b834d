ALTER TABLE "campaigns" ADD COLUMN "at_once" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "change_sets" ADD COLUMN "thing_kind" text;--> statement-breakpoint
ALTER TABLE "change_sets" ADD COLUMN "thing_id" integer;