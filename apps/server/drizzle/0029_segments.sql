CREATE TABLE "segment_members" (
	"segment_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"added_at" timestamp with time zone NOT NULL,
	CONSTRAINT "segment_members_segment_id_contact_id_pk" PRIMARY KEY("segment_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "segment_sizes" (
	"segment_id" integer NOT NULL,
	"day" text NOT NULL,
	"size" integer NOT NULL,
	CONSTRAINT "segment_sizes_segment_id_day_pk" PRIMARY KEY("segment_id","day")
);
--> statement-breakpoint
ALTER TABLE "segments" DROP CONSTRAINT "segments_pool_id_pools_id_fk";
--> statement-breakpoint
ALTER TABLE "segments" ALTER COLUMN "pool_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "links" smallint[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "machine_links" smallint[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "segment_versions" ADD COLUMN "pool_ids" integer[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "segment_versions" ADD COLUMN "since" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "segment_versions" ADD COLUMN "made_by" integer;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "labels" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "pool_ids" integer[];--> statement-breakpoint
UPDATE "segments" SET "pool_ids" = array["pool_id"];--> statement-breakpoint
ALTER TABLE "segments" ALTER COLUMN "pool_ids" SET NOT NULL;--> statement-breakpoint
UPDATE "segment_versions" v SET "pool_ids" = s."pool_ids" FROM "segments" s WHERE s."id" = v."segment_id";--> statement-breakpoint
UPDATE "deliveries" d SET "links" = e.links, "machine_links" = e.machine_links FROM (
	SELECT campaign_id, contact_id,
		coalesce(array_agg(DISTINCT link) FILTER (WHERE NOT machine), '{}') AS links,
		coalesce(array_agg(DISTINCT link) FILTER (WHERE machine), '{}') AS machine_links
	FROM "events" WHERE kind = 'clicked' AND link IS NOT NULL GROUP BY campaign_id, contact_id) e
	WHERE d.campaign_id = e.campaign_id AND d.contact_id = e.contact_id;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "in_force_since" timestamp with time zone;--> statement-breakpoint
UPDATE "segments" SET "in_force_since" = "updated_at";--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "in_force_by" integer;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "draft_rule" jsonb;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "draft_pool_ids" integer[];--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "owner_id" integer;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "sharing" text DEFAULT 'all' NOT NULL;--> statement-breakpoint
ALTER TABLE "segments" ADD COLUMN "shared_with" integer[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
CREATE INDEX "segment_members_by_contact" ON "segment_members" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "deliveries_bounced" ON "deliveries" USING btree ("campaign_id","contact_id") WHERE state = 'bounced';--> statement-breakpoint
CREATE INDEX "deliveries_replied" ON "deliveries" USING btree ("campaign_id","contact_id") WHERE replied_at is not null;--> statement-breakpoint
CREATE INDEX "deliveries_left" ON "deliveries" USING btree ("campaign_id","contact_id") WHERE left_at is not null;