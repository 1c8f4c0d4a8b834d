CREATE TABLE "filters" (
	"key" text PRIMARY KEY NOT NULL,
	"rule" jsonb NOT NULL,
	"used_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "start_views" (
	"user_id" integer PRIMARY KEY NOT NULL,
	"view_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "views" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "views_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"owner_id" integer NOT NULL,
	"shared_with_all" boolean DEFAULT false NOT NULL,
	"shared_with" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"arrangement" jsonb NOT NULL,
	"rule" jsonb,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE INDEX "views_by_owner" ON "views" USING btree ("owner_id");--> statement-breakpoint
CREATE INDEX "contacts_phone_digits" ON "contacts" USING gin (regexp_replace(phone, '\D', '', 'g') gin_trgm_ops) WHERE phone is not null;