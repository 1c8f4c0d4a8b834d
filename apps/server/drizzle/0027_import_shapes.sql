CREATE TABLE "import_shapes" (
	"key" text PRIMARY KEY NOT NULL,
	"columns" jsonb NOT NULL,
	"used_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
DROP INDEX "import_rows_refused";--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "guesses" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "doubted_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "tags_made" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "known_since" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "import_rows_to_look_at" ON "import_rows" USING btree ("import_id","row") WHERE reason is not null;