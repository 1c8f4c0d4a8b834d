DROP INDEX "deliveries_not_opened";--> statement-breakpoint
DROP INDEX "deliveries_opened";--> statement-breakpoint
CREATE INDEX "deliveries_otherwise" ON "deliveries" USING btree ("contact_id") WHERE state <> 'accepted' and (accepted_at is not null or first_opened_at is not null);--> statement-breakpoint
CREATE INDEX "deliveries_lost" ON "deliveries" USING btree ("contact_id") WHERE state in ('gave up', 'uncertain');--> statement-breakpoint
CREATE INDEX "deliveries_not_opened" ON "deliveries" USING btree ("campaign_id","contact_id") WHERE state = 'accepted' and first_opened_at is null;--> statement-breakpoint
CREATE INDEX "deliveries_opened" ON "deliveries" USING btree ("campaign_id","contact_id","first_opened_at","state") WHERE first_opened_at is not null;