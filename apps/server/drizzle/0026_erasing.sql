CREATE TABLE "erasures" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "erasures_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp with time zone NOT NULL,
	"user_id" integer,
	"is_asked" boolean NOT NULL,
	"people" integer[] NOT NULL,
	"hashes" "bytea"[] NOT NULL,
	"backups" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"cursors" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "permissions" (
	"contact_id" integer NOT NULL,
	"set_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"kind" text NOT NULL,
	"agreed_at" timestamp with time zone,
	"source" text,
	"wording" text,
	CONSTRAINT "permissions_contact_id_set_id_pk" PRIMARY KEY("contact_id","set_id")
);
--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "permission_wording" text;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "erased_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "permission_wording" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "erasures_by_person" ON "erasures" USING gin ("people");--> statement-breakpoint
CREATE INDEX "erasures_open" ON "erasures" USING btree ("id") WHERE finished_at is null;--> statement-breakpoint
-- What is known of permissions until now.
INSERT INTO "permissions" ("contact_id", "set_id", "at", "kind", "agreed_at", "source")
SELECT "id", 0, coalesce("permission_at", "created_at"), "permission", "permission_at", "permission_source" FROM "contacts"
WHERE "permission" <> 'unknown' OR "permission_source" IS NOT NULL;
