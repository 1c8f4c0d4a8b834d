ALTER TABLE "contacts" ADD COLUMN "recent_letters" bigint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "recent_accepted" bigint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "recent_opened" bigint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "recent_clicked" bigint;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "recent_bounced" bigint;--> statement-breakpoint
UPDATE "contacts" SET "rating_due" = true WHERE "erased_at" IS NULL;
