CREATE TABLE "notes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"address" text,
	"subject" text NOT NULL,
	"text" text NOT NULL,
	"attempts" smallint DEFAULT 0 NOT NULL,
	"next_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "reader_links" (
	"secret_hash" "bytea" PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"contact_id" integer NOT NULL,
	"campaign_id" integer NOT NULL,
	"address" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "known_browsers" (
	"token_hash" "bytea" PRIMARY KEY NOT NULL,
	"user_id" integer NOT NULL,
	"seen_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "standstills" (
	"work" text NOT NULL,
	"thing" integer NOT NULL,
	"reason" text NOT NULL,
	"failures" integer NOT NULL,
	"what" text DEFAULT '' NOT NULL,
	"stopped_at" timestamp with time zone,
	CONSTRAINT "standstills_work_thing_pk" PRIMARY KEY("work","thing")
);
--> statement-breakpoint
CREATE TABLE "tries" (
	"subject" text PRIMARY KEY NOT NULL,
	"since" timestamp with time zone NOT NULL,
	"count" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "do_not_mail" ADD COLUMN "user_id" integer;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "elsewhere_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "known_browsers" ADD CONSTRAINT "known_browsers_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "notes_by_time" ON "notes" USING btree ("next_at");--> statement-breakpoint
CREATE INDEX "reader_links_by_contact" ON "reader_links" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "known_browsers_user_id_index" ON "known_browsers" USING btree ("user_id");