ALTER TABLE "contacts" ADD COLUMN "shared_with" text;--> statement-breakpoint
CREATE INDEX "contacts_shared" ON "contacts" USING gin (string_to_array(shared_with, ',')) WHERE shared_with is not null;