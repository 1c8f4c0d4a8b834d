CREATE TABLE "came_back" (
	"address_hash" "bytea" PRIMARY KEY NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "do_not_mail" ADD COLUMN "spread_from" "bytea";--> statement-breakpoint
ALTER TABLE "do_not_mail" ADD COLUMN "beneath" text;