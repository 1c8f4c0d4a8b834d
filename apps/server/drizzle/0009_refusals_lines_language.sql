ALTER TABLE "contacts" ADD COLUMN "unread_bounces" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "import_rows" ADD COLUMN "line" integer;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "again_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "offices" ADD COLUMN "unread_bounce_limit" smallint DEFAULT 3 NOT NULL;--> statement-breakpoint
ALTER TABLE "offices" ADD COLUMN "language" text DEFAULT 'en' NOT NULL;--> statement-breakpoint
ALTER TABLE "offices" ADD COLUMN "mail_takes_utf8" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "contacts_refused" ON "contacts" USING btree ("unread_bounces") WHERE unread_bounces > 0;