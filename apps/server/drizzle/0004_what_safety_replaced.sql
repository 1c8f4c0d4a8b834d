INSERT INTO "reader_links" ("secret_hash", "kind", "contact_id", "campaign_id", "address", "expires_at") SELECT "secret_hash", 'new address', "contact_id", "campaign_id", "address", "expires_at" FROM "pending_addresses";--> statement-breakpoint
DROP TABLE "pending_addresses" CASCADE;--> statement-breakpoint
DROP TABLE "sign_in_failures" CASCADE;
