ALTER TABLE "own_fields" DROP CONSTRAINT "own_fields_labelKey_unique";--> statement-breakpoint
DROP INDEX "contacts_phone_digits";--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "more_phones" text;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "more_addresses" text;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "more_keys" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "more_hashes" "bytea"[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "external_number" text;--> statement-breakpoint
ALTER TABLE "contacts" ADD COLUMN "last_contact_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "built_in" text;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "is_required" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "standard" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "help" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "group_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "position" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "currency" text;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "since_day" text;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "since_unit" text;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "own_fields" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "offices" ADD COLUMN "country" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "contacts_further_words" ON "contacts" USING gin ((keys ->> 'more_addresses') gin_trgm_ops) WHERE more_addresses is not null;--> statement-breakpoint
CREATE INDEX "contacts_further_keys" ON "contacts" USING gin ("more_keys") WHERE more_addresses is not null;--> statement-breakpoint
CREATE INDEX "contacts_further_hashes" ON "contacts" USING gin ("more_hashes") WHERE more_addresses is not null;--> statement-breakpoint
CREATE INDEX "contacts_numbers" ON "contacts" USING gin (regexp_replace(coalesce(phone, '') || E'\n' || coalesce(more_phones, ''), '[^0-9\n]', '', 'g') gin_trgm_ops) WHERE phone is not null or more_phones is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "contacts_by_external_number" ON "contacts" USING btree ("pool_id",(keys ->> 'external_number') collate "C") WHERE deleted_at is null and external_number is not null;--> statement-breakpoint
CREATE INDEX "contacts_external_words" ON "contacts" USING btree ((keys ->> 'external_number') collate "C") WHERE external_number is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "own_fields_by_label" ON "own_fields" USING btree ("label_key") WHERE deleted_at is null;--> statement-breakpoint
ALTER TABLE "own_fields" ADD CONSTRAINT "own_fields_builtIn_unique" UNIQUE("built_in");
--> statement-breakpoint
-- Stages and sources become choices that the office names; what was written as text is the same choice however it was written.
CREATE TEMPORARY TABLE named ON COMMIT DROP AS
SELECT field, said, label, 'c' || dense_rank() OVER (PARTITION BY field ORDER BY how_often DESC, said) AS key, how_often FROM (
  SELECT field, said, (array_agg(label ORDER BY times DESC, label))[1] AS label, sum(times) AS how_often FROM (
    SELECT 'stage' AS field, coalesce(keys ->> 'stage', stage) AS said, stage AS label, count(*) AS times FROM contacts WHERE stage IS NOT NULL GROUP BY 2, 3
    UNION ALL
    SELECT 'source', coalesce(keys ->> 'source', source), source, count(*) FROM contacts WHERE source IS NOT NULL GROUP BY 2, 3) each
  GROUP BY 1, 2) often;
--> statement-breakpoint
INSERT INTO own_fields (built_in, label, label_key, type, choices, position, created_at)
SELECT field, field, field, 'choice', coalesce((
  SELECT jsonb_agg(jsonb_build_object('key', key, 'label', left(label, 60)) ORDER BY how_often DESC, said) FROM named n WHERE n.field = f.field), '[]'), 0, now()
FROM (VALUES ('stage'), ('source')) f(field);
--> statement-breakpoint
UPDATE contacts c SET stage = n.key, keys = c.keys - 'stage' FROM named n WHERE n.field = 'stage' AND c.stage IS NOT NULL AND n.said = coalesce(c.keys ->> 'stage', c.stage);
--> statement-breakpoint
UPDATE contacts c SET source = n.key, keys = c.keys - 'source' FROM named n WHERE n.field = 'source' AND c.source IS NOT NULL AND n.said = coalesce(c.keys ->> 'source', c.source);
--> statement-breakpoint
UPDATE change_items i SET before = jsonb_set(i.before, ARRAY[n.field], to_jsonb(n.key)) FROM named n WHERE i.before ->> n.field = n.label;
--> statement-breakpoint
UPDATE change_items i SET after = jsonb_set(i.after, ARRAY[n.field], to_jsonb(n.key)) FROM named n WHERE i.after ->> n.field = n.label;
--> statement-breakpoint
UPDATE contacts SET keys = jsonb_set(keys, '{phone}', to_jsonb(regexp_replace(phone, '\D', '', 'g'))) WHERE phone IS NOT NULL;
--> statement-breakpoint
UPDATE own_fields SET position = id WHERE built_in IS NULL;
--> statement-breakpoint
-- Whoever answered a letter was in contact then.
UPDATE contacts c SET last_contact_at = d.at FROM (
  SELECT contact_id, max(replied_at) AS at FROM deliveries WHERE replied_at IS NOT NULL GROUP BY contact_id) d WHERE d.contact_id = c.id;
