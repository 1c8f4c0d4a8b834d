CREATE TABLE "continuity" (
	"id" integer PRIMARY KEY NOT NULL,
	"mark" text NOT NULL,
	"place" text NOT NULL,
	"seen_at" timestamp with time zone NOT NULL,
	"broken_by" text,
	"broken_at" timestamp with time zone,
	"as_of" timestamp with time zone,
	"decided" integer[] DEFAULT '{}' NOT NULL
);
