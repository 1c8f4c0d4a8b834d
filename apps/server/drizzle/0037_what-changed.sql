-- A number for each table that rules ask, which grows with every statement that writes it. For whom a condition holds is
-- kept in memory as long as the numbers of its tables stay the same.
CREATE FUNCTION "note_change"() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM nextval(tg_argv[0]::regclass); RETURN NULL; END $$;
--> statement-breakpoint
CREATE SEQUENCE "changes_of_contacts";
--> statement-breakpoint
-- One that was never asked shows the same number as one that was asked once.
SELECT nextval('changes_of_contacts');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR DELETE OR TRUNCATE OR UPDATE OF "id", "pool_id", "owner_id", "given_name", "family_name", "search_key", "address", "address_key", "address_hash", "town", "region", "postcode", "country", "stage", "lat", "lon", "fields", "keys", "permission", "permission_at", "permission_source", "created_at", "updated_at", "version", "deleted_at", "former_hash", "street", "phone", "position", "source", "closeness", "more_phones", "more_addresses", "more_keys", "more_hashes", "external_number", "shared_with", "permission_wording", "erased_at" ON "contacts" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_contacts');
--> statement-breakpoint
-- What becomes of letters is written with people every few seconds while a campaign goes out, and hardly any rule asks for it.
CREATE SEQUENCE "changes_of_contact_courses";
--> statement-breakpoint
SELECT nextval('changes_of_contact_courses');
--> statement-breakpoint
CREATE TRIGGER "note_course" AFTER UPDATE OF "sent_count", "opened_count", "clicked_count", "last_sent_at", "last_opened_at", "last_clicked_at", "last_contact_at", "soft_bounces", "soft_since", "unread_bounces", "rating", "band", "rating_high", "rating_low", "rating_due", "recent_letters", "recent_accepted", "recent_opened", "recent_clicked", "recent_bounced" ON "contacts" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_contact_courses');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_contact_tags";
--> statement-breakpoint
SELECT nextval('changes_of_contact_tags');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "contact_tags" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_contact_tags');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_deliveries";
--> statement-breakpoint
SELECT nextval('changes_of_deliveries');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "deliveries" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_deliveries');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_happenings";
--> statement-breakpoint
SELECT nextval('changes_of_happenings');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "happenings" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_happenings');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_change_sets";
--> statement-breakpoint
SELECT nextval('changes_of_change_sets');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "change_sets" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_change_sets');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_segment_members";
--> statement-breakpoint
SELECT nextval('changes_of_segment_members');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "segment_members" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_segment_members');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_do_not_mail";
--> statement-breakpoint
SELECT nextval('changes_of_do_not_mail');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "do_not_mail" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_do_not_mail');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_dropped_topics";
--> statement-breakpoint
SELECT nextval('changes_of_dropped_topics');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "dropped_topics" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_dropped_topics');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_rating_courses";
--> statement-breakpoint
SELECT nextval('changes_of_rating_courses');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "rating_courses" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_rating_courses');
--> statement-breakpoint
CREATE SEQUENCE "changes_of_offices";
--> statement-breakpoint
SELECT nextval('changes_of_offices');
--> statement-breakpoint
CREATE TRIGGER "note_change" AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON "offices" FOR EACH STATEMENT EXECUTE FUNCTION "note_change"('changes_of_offices');
