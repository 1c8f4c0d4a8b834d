CREATE TABLE "chosen_people" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "chosen_people_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"ids" integer[],
	"filter" jsonb,
	"rule" jsonb,
	"user_id" integer NOT NULL,
	"created_at" timestamp with time zone NOT NULL
);
