CREATE TABLE "places" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "places_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"key" text collate "C" NOT NULL,
	"region" text NOT NULL,
	"region_key" text collate "C" NOT NULL,
	"country" text NOT NULL,
	"lat" double precision NOT NULL,
	"lon" double precision NOT NULL,
	"people" integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX "places_by_key" ON "places" USING btree ("key","kind");