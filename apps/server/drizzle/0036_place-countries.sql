CREATE TABLE "place_countries" (
	"key" text collate "C" PRIMARY KEY NOT NULL,
	"code" text NOT NULL
);
