INSERT INTO "outbox" ("kind", "address", "subject", "text", "attempts", "next_at", "created_at")
SELECT CASE WHEN "subject" LIKE 'Your page at %' THEN 'own page' WHEN "subject" LIKE 'Your new address %' THEN 'new address' ELSE 'address moved' END,
	"address", "subject", "text", "attempts", "next_at", now() FROM "notes" ORDER BY "id";
--> statement-breakpoint
DROP TABLE "notes" CASCADE;
