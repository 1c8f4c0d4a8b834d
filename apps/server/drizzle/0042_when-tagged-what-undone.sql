ALTER TABLE "change_items" ADD COLUMN "undone" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "contact_tags" ADD COLUMN "at" timestamp with time zone;--> statement-breakpoint
UPDATE "contact_tags" t SET "at" = p."at" FROM (
  SELECT h."contact_id", h."which"::int AS tag_id, max(s."at") AS "at" FROM "happenings" h JOIN "change_sets" s ON s."id" = h."set_id"
  WHERE h."kind" = 'tag put on' AND s."undoes" IS NULL AND s."undone_at" IS NULL GROUP BY 1, 2) p
WHERE p."contact_id" = t."contact_id" AND p.tag_id = t."tag_id";
--> statement-breakpoint
UPDATE "change_items" i SET "undone" = true FROM "change_sets" s
WHERE s."id" = i."set_id" AND s."undone_at" IS NOT NULL AND s."undoes" IS NULL
  AND EXISTS (SELECT 1 FROM "change_sets" u JOIN "change_items" o ON o."set_id" = u."id" WHERE u."undoes" = s."id" AND o."contact_id" = i."contact_id");
