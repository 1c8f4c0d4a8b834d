ALTER TABLE "rating_scales" ADD COLUMN "check_cursor" integer;--> statement-breakpoint
ALTER TABLE "rating_scales" ADD COLUMN "checked_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "rating_scales" ADD COLUMN "wrong_count" integer DEFAULT 0 NOT NULL;