CREATE TABLE "rewritten_trees" (
	"set_id" integer NOT NULL,
	"kind" text NOT NULL,
	"thing_id" integer NOT NULL,
	"before" jsonb NOT NULL,
	"after" jsonb NOT NULL,
	CONSTRAINT "rewritten_trees_set_id_kind_thing_id_pk" PRIMARY KEY("set_id","kind","thing_id")
);
--> statement-breakpoint
CREATE TABLE "tags_told_apart" (
	"one" integer NOT NULL,
	"other" integer NOT NULL,
	CONSTRAINT "tags_told_apart_one_other_pk" PRIMARY KEY("one","other")
);
--> statement-breakpoint
ALTER TABLE "tags" DROP CONSTRAINT "tags_nameKey_unique";--> statement-breakpoint
ALTER TABLE "tags" ADD COLUMN "purpose" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "tags" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "tags" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
CREATE UNIQUE INDEX "tags_by_name" ON "tags" USING btree ("name_key") WHERE deleted_at is null;