CREATE TABLE "notes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"contact_id" integer NOT NULL,
	"user_id" integer NOT NULL,
	"kind" text NOT NULL,
	"text" jsonb NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"pinned" boolean DEFAULT false NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "notes_told" (
	"note_id" integer NOT NULL,
	"user_id" integer NOT NULL,
	"seen_at" timestamp with time zone,
	CONSTRAINT "notes_told_note_id_user_id_pk" PRIMARY KEY("note_id","user_id")
);
--> statement-breakpoint
CREATE TABLE "tasks" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tasks_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"contact_id" integer NOT NULL,
	"user_id" integer NOT NULL,
	"made_by" integer NOT NULL,
	"kind" text NOT NULL,
	"text" text NOT NULL,
	"due" date,
	"remind" boolean DEFAULT false NOT NULL,
	"reminded_at" timestamp with time zone,
	"done_at" timestamp with time zone,
	"done_by" integer,
	"batch" integer,
	"created_at" timestamp with time zone NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE INDEX "notes_by_contact" ON "notes" USING btree ("contact_id","at");--> statement-breakpoint
CREATE INDEX "notes_gone" ON "notes" USING btree ("deleted_at") WHERE deleted_at is not null;--> statement-breakpoint
CREATE INDEX "notes_to_see" ON "notes_told" USING btree ("user_id") WHERE seen_at is null;--> statement-breakpoint
CREATE INDEX "tasks_by_contact" ON "tasks" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "tasks_open" ON "tasks" USING btree ("user_id","due","id") WHERE done_at is null and deleted_at is null;--> statement-breakpoint
CREATE INDEX "tasks_open_of_all" ON "tasks" USING btree ("due","id") WHERE done_at is null and deleted_at is null;--> statement-breakpoint
CREATE INDEX "tasks_done" ON "tasks" USING btree ("done_at","id") WHERE done_at is not null and deleted_at is null;--> statement-breakpoint
CREATE INDEX "tasks_by_batch" ON "tasks" USING btree ("batch") WHERE batch is not null;--> statement-breakpoint
CREATE INDEX "tasks_gone" ON "tasks" USING btree ("deleted_at") WHERE deleted_at is not null;