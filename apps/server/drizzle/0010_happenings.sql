CREATE TABLE "happenings" (
	"set_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"kind" text NOT NULL,
	"which" text DEFAULT '' NOT NULL,
	CONSTRAINT "happenings_set_id_kind_which_contact_id_pk" PRIMARY KEY("set_id","kind","which","contact_id")
);
--> statement-breakpoint
INSERT INTO "happenings" ("set_id", "contact_id", "kind", "which")
SELECT "set_id", "contact_id", 'came in', '' FROM "change_items" WHERE "before" IS NULL
UNION
SELECT i."set_id", i."contact_id",
	CASE
		WHEN k.key LIKE 'tag\_%' THEN CASE WHEN k.value = 'true' THEN 'tag put on' ELSE 'tag taken off' END
		WHEN k.key = 'deleted' THEN CASE WHEN k.value = 'true' THEN 'deleted' ELSE 'brought back' END
		WHEN k.key = 'do_not_mail' THEN CASE WHEN k.value = 'true' THEN 'put on do not mail' ELSE 'taken off do not mail' END
		WHEN k.key IN ('stage', 'owner', 'pool', 'address', 'permission') THEN k.key
		WHEN k.key IN ('permission_at', 'permission_source') THEN 'permission'
		ELSE 'changed'
	END,
	CASE
		WHEN k.key LIKE 'tag\_%' THEN substr(k.key, 5)
		WHEN k.key IN ('deleted', 'do_not_mail', 'stage', 'owner', 'pool', 'address', 'permission', 'permission_at', 'permission_source') THEN ''
		ELSE k.key
	END
FROM "change_items" i, jsonb_each(i."after") k WHERE i."before" IS NOT NULL OR k.key LIKE 'tag\_%';
--> statement-breakpoint
DROP INDEX "change_items_by_contact";--> statement-breakpoint
CREATE INDEX "happenings_by_contact" ON "happenings" USING btree ("contact_id","set_id");