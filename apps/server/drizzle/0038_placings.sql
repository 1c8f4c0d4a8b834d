CREATE TABLE "placings" (
	"id" integer PRIMARY KEY NOT NULL,
	"older" integer NOT NULL,
	"cursor" integer NOT NULL
);
