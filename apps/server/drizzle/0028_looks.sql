CREATE TABLE "import_looks" (
	"import_id" integer NOT NULL,
	"version" integer NOT NULL,
	"row" integer NOT NULL,
	"line" integer NOT NULL,
	"outcome" text NOT NULL,
	"contact_id" integer,
	"same_as" integer,
	"is_look" boolean NOT NULL,
	"is_mended" boolean NOT NULL,
	"cells" jsonb NOT NULL,
	"problems" jsonb,
	"was" jsonb,
	CONSTRAINT "import_looks_import_id_version_row_pk" PRIMARY KEY("import_id","version","row")
);
--> statement-breakpoint
CREATE TABLE "import_mends" (
	"import_id" integer NOT NULL,
	"row" integer NOT NULL,
	"cells" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"is_out" boolean DEFAULT false NOT NULL,
	"person" integer,
	"is_seen" boolean DEFAULT false NOT NULL,
	CONSTRAINT "import_mends_import_id_row_pk" PRIMARY KEY("import_id","row")
);
--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "kind" text DEFAULT 'text' NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "original_id" text;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "sheets" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "sheet_at" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "matching" text DEFAULT 'address' NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "fixed" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "tags_meant" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "owners" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "plan_version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "look_wanted" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "look_version" integer;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "look_cursor" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "look" jsonb;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "fields_made" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "out_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX "import_looks_by_outcome" ON "import_looks" USING btree ("import_id","version","outcome","row");--> statement-breakpoint
CREATE INDEX "import_looks_to_look_at" ON "import_looks" USING btree ("import_id","version","row") WHERE is_look or is_mended;