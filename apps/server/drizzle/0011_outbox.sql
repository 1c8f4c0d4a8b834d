CREATE TABLE "outbox" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "outbox_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"address" text,
	"subject" text NOT NULL,
	"text" text NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"attempts" smallint DEFAULT 0 NOT NULL,
	"next_at" timestamp with time zone NOT NULL,
	"answer" text,
	"created_at" timestamp with time zone NOT NULL,
	"settled_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "standstills" ADD COLUMN "next_at" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "outbox_open" ON "outbox" USING btree ("next_at") WHERE state in ('waiting', 'handing over');