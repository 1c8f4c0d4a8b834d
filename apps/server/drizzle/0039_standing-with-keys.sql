DROP INDEX "contacts_standing";--> statement-breakpoint
CREATE INDEX "contacts_standing" ON "contacts" USING btree ("pool_id","owner_id","permission","address_hash","id") WHERE deleted_at is null;