CREATE INDEX "contacts_anywhere_by_name" ON "contacts" USING btree ("search_key","id") WHERE deleted_at is null;--> statement-breakpoint
CREATE INDEX "contacts_gone" ON "contacts" USING btree ("id") WHERE deleted_at is not null;--> statement-breakpoint
-- Kept before, they lack a count.
DELETE FROM "counted_results";
