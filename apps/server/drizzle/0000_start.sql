CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "campaigns" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "campaigns_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"status" text DEFAULT 'draft' NOT NULL,
	"who" jsonb NOT NULL,
	"letter_id" integer,
	"topic_id" integer,
	"sender_name" text NOT NULL,
	"sender_address" text NOT NULL,
	"reply_to" text DEFAULT '' NOT NULL,
	"send_at" timestamp with time zone,
	"seen" jsonb,
	"tally" jsonb,
	"fixed_up_to" integer DEFAULT 0 NOT NULL,
	"compiled" jsonb,
	"subject" text,
	"fixed_at" timestamp with time zone,
	"started_at" timestamp with time zone,
	"finished_at" timestamp with time zone,
	"trouble" text,
	"facts_version" integer DEFAULT 0 NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "change_items" (
	"set_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"before" jsonb,
	"after" jsonb NOT NULL,
	CONSTRAINT "change_items_set_id_contact_id_pk" PRIMARY KEY("set_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "change_sets" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_sets_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"user_id" integer,
	"at" timestamp with time zone NOT NULL,
	"what" text NOT NULL,
	"count" integer DEFAULT 0 NOT NULL,
	"undone_at" timestamp with time zone,
	"undoable" boolean DEFAULT true NOT NULL,
	"undoes" integer,
	"todo" jsonb,
	"cursor" integer DEFAULT 0 NOT NULL,
	"left_alone" integer DEFAULT 0 NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "contact_tags" (
	"contact_id" integer NOT NULL,
	"tag_id" integer NOT NULL,
	CONSTRAINT "contact_tags_contact_id_tag_id_pk" PRIMARY KEY("contact_id","tag_id")
);
--> statement-breakpoint
CREATE TABLE "contacts" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "contacts_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"pool_id" integer NOT NULL,
	"owner_id" integer NOT NULL,
	"given_name" text DEFAULT '' NOT NULL,
	"family_name" text DEFAULT '' NOT NULL,
	"search_key" text collate "C" DEFAULT '' NOT NULL,
	"address" text,
	"address_key" text collate "C",
	"address_hash" "bytea",
	"town" text,
	"region" text,
	"postcode" text,
	"country" text,
	"stage" text,
	"lat" double precision,
	"lon" double precision,
	"fields" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"keys" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"permission" text DEFAULT 'unknown' NOT NULL,
	"permission_at" timestamp with time zone,
	"permission_source" text,
	"sent_count" integer DEFAULT 0 NOT NULL,
	"opened_count" integer DEFAULT 0 NOT NULL,
	"clicked_count" integer DEFAULT 0 NOT NULL,
	"last_sent_at" timestamp with time zone,
	"last_opened_at" timestamp with time zone,
	"last_clicked_at" timestamp with time zone,
	"soft_bounces" smallint DEFAULT 0 NOT NULL,
	"soft_since" timestamp with time zone,
	"created_at" timestamp with time zone NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "do_not_mail" (
	"address_hash" "bytea" PRIMARY KEY NOT NULL,
	"address" text,
	"reason" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"campaign_id" integer,
	"note" text
);
--> statement-breakpoint
CREATE TABLE "dropped_topics" (
	"address_hash" "bytea" NOT NULL,
	"topic_id" integer NOT NULL,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "dropped_topics_address_hash_topic_id_pk" PRIMARY KEY("address_hash","topic_id")
);
--> statement-breakpoint
CREATE TABLE "own_fields" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "own_fields_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"label" text NOT NULL,
	"label_key" text collate "C" NOT NULL,
	"type" text NOT NULL,
	"choices" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "own_fields_labelKey_unique" UNIQUE("label_key")
);
--> statement-breakpoint
CREATE TABLE "pools" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "pools_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"kind" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tags" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tags_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"name_key" text collate "C" NOT NULL,
	"colour" text NOT NULL,
	"kind" text DEFAULT 'office' NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "tags_nameKey_unique" UNIQUE("name_key")
);
--> statement-breakpoint
CREATE TABLE "topics" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "topics_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"name_key" text collate "C" NOT NULL,
	"description" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "topics_nameKey_unique" UNIQUE("name_key")
);
--> statement-breakpoint
CREATE TABLE "deliveries" (
	"campaign_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"state" text NOT NULL,
	"address" text,
	"address_hash" "bytea" NOT NULL,
	"attempts" smallint DEFAULT 0 NOT NULL,
	"first_tried_at" timestamp with time zone,
	"next_at" timestamp with time zone,
	"worker" uuid,
	"answer" text,
	"bounce" text,
	"accepted_at" timestamp with time zone,
	"bounced_at" timestamp with time zone,
	"left_at" timestamp with time zone,
	"complained_at" timestamp with time zone,
	"replied_at" timestamp with time zone,
	"first_opened_at" timestamp with time zone,
	"last_opened_at" timestamp with time zone,
	"opens" integer DEFAULT 0 NOT NULL,
	"machine_opens" integer DEFAULT 0 NOT NULL,
	"first_clicked_at" timestamp with time zone,
	"last_clicked_at" timestamp with time zone,
	"clicks" integer DEFAULT 0 NOT NULL,
	"machine_clicks" integer DEFAULT 0 NOT NULL,
	CONSTRAINT "deliveries_campaign_id_contact_id_pk" PRIMARY KEY("campaign_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "events" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "events_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"contact_id" integer NOT NULL,
	"campaign_id" integer NOT NULL,
	"link" smallint,
	"machine" boolean DEFAULT false NOT NULL,
	"why" text
);
--> statement-breakpoint
CREATE TABLE "held_back" (
	"campaign_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"reason" text NOT NULL,
	"address_hash" "bytea",
	CONSTRAINT "held_back_campaign_id_contact_id_pk" PRIMARY KEY("campaign_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "mailbox_cursors" (
	"mailbox" text PRIMARY KEY NOT NULL,
	"uid_validity" bigint NOT NULL,
	"last_uid" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "pending_addresses" (
	"secret_hash" "bytea" PRIMARY KEY NOT NULL,
	"contact_id" integer NOT NULL,
	"campaign_id" integer NOT NULL,
	"address" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "returned_mail" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "returned_mail_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp with time zone NOT NULL,
	"digest" "bytea" NOT NULL,
	"kind" text NOT NULL,
	"bounce" text,
	"evidence" text,
	"campaign_id" integer,
	"contact_id" integer,
	"sender" text DEFAULT '' NOT NULL,
	"subject" text DEFAULT '' NOT NULL,
	"excerpt" text DEFAULT '' NOT NULL,
	"diagnosis" text,
	"source" text NOT NULL,
	"handled_at" timestamp with time zone,
	"handled_by" integer,
	CONSTRAINT "returned_mail_digest_unique" UNIQUE("digest")
);
--> statement-breakpoint
CREATE TABLE "import_rows" (
	"import_id" integer NOT NULL,
	"row" integer NOT NULL,
	"outcome" text NOT NULL,
	"contact_id" integer,
	"reason" text,
	"cells" jsonb,
	CONSTRAINT "import_rows_import_id_row_pk" PRIMARY KEY("import_id","row")
);
--> statement-breakpoint
CREATE TABLE "imports" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "imports_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"state" text NOT NULL,
	"file_id" text NOT NULL,
	"file_name" text NOT NULL,
	"encoding" text NOT NULL,
	"separator" text NOT NULL,
	"headers" jsonb NOT NULL,
	"sample" jsonb NOT NULL,
	"rows" integer NOT NULL,
	"mapping" jsonb NOT NULL,
	"pool_id" integer NOT NULL,
	"owner_id" integer NOT NULL,
	"permission" text DEFAULT 'unknown' NOT NULL,
	"permission_at" timestamp with time zone,
	"permission_source" text DEFAULT '' NOT NULL,
	"tag_ids" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"cursor" integer DEFAULT 0 NOT NULL,
	"new_count" integer DEFAULT 0 NOT NULL,
	"changed_count" integer DEFAULT 0 NOT NULL,
	"unchanged_count" integer DEFAULT 0 NOT NULL,
	"refused_count" integer DEFAULT 0 NOT NULL,
	"change_set_id" integer,
	"user_id" integer NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"started_at" timestamp with time zone,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "letter_versions" (
	"letter_id" integer NOT NULL,
	"version" integer NOT NULL,
	"content" jsonb NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"user_id" integer,
	CONSTRAINT "letter_versions_letter_id_version_pk" PRIMARY KEY("letter_id","version")
);
--> statement-breakpoint
CREATE TABLE "letters" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "letters_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"content" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "offices" (
	"id" integer PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"postal_address" text NOT NULL,
	"time_zone" text NOT NULL,
	"sender_name" text NOT NULL,
	"sender_address" text NOT NULL,
	"mail_unknown" boolean DEFAULT false NOT NULL,
	"soft_bounce_limit" smallint DEFAULT 3 NOT NULL,
	"hidden_link" boolean DEFAULT false NOT NULL,
	"colour" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "claims" (
	"thing" text PRIMARY KEY NOT NULL,
	"worker" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "file_pieces" (
	"file_id" text NOT NULL,
	"piece" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "file_pieces_file_id_piece_pk" PRIMARY KEY("file_id","piece")
);
--> statement-breakpoint
CREATE TABLE "files" (
	"id" text PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"size" integer NOT NULL,
	"created_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "office_keys" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "office_keys_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"purpose" text NOT NULL,
	"secret" "bytea" NOT NULL,
	"created_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"token_hash" "bytea" PRIMARY KEY NOT NULL,
	"user_id" integer NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"seen_at" timestamp with time zone NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_failures" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "sign_in_failures_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"subject" text NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "users" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "users_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"address" text NOT NULL,
	"address_key" text collate "C" NOT NULL,
	"role" text NOT NULL,
	"password_hash" text NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "users_addressKey_unique" UNIQUE("address_key")
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"beat_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "counted_results" (
	"campaign_id" integer PRIMARY KEY NOT NULL,
	"facts_version" integer NOT NULL,
	"counts" jsonb NOT NULL,
	"detail" jsonb
);
--> statement-breakpoint
CREATE TABLE "segment_versions" (
	"segment_id" integer NOT NULL,
	"version" integer NOT NULL,
	"rule" jsonb NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"user_id" integer,
	CONSTRAINT "segment_versions_segment_id_version_pk" PRIMARY KEY("segment_id","version")
);
--> statement-breakpoint
CREATE TABLE "segments" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "segments_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"description" text DEFAULT '' NOT NULL,
	"kind" text DEFAULT 'live' NOT NULL,
	"pool_id" integer NOT NULL,
	"rule" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"updated_at" timestamp with time zone NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "contacts" ADD CONSTRAINT "contacts_pool_id_pools_id_fk" FOREIGN KEY ("pool_id") REFERENCES "public"."pools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "contacts" ADD CONSTRAINT "contacts_owner_id_users_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dropped_topics" ADD CONSTRAINT "dropped_topics_topic_id_topics_id_fk" FOREIGN KEY ("topic_id") REFERENCES "public"."topics"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_user_id_users_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."users"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "segments" ADD CONSTRAINT "segments_pool_id_pools_id_fk" FOREIGN KEY ("pool_id") REFERENCES "public"."pools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "campaigns_by_status" ON "campaigns" USING btree ("status");--> statement-breakpoint
CREATE INDEX "campaigns_by_start" ON "campaigns" USING btree ("started_at");--> statement-breakpoint
CREATE INDEX "change_items_by_contact" ON "change_items" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "change_sets_by_time" ON "change_sets" USING btree ("at");--> statement-breakpoint
CREATE INDEX "change_sets_by_user" ON "change_sets" USING btree ("user_id","at");--> statement-breakpoint
CREATE INDEX "change_sets_by_undone" ON "change_sets" USING btree ("undoes");--> statement-breakpoint
CREATE INDEX "change_sets_unfinished" ON "change_sets" USING btree ("id") WHERE finished_at is null;--> statement-breakpoint
CREATE INDEX "contact_tags_by_tag" ON "contact_tags" USING btree ("tag_id","contact_id");--> statement-breakpoint
CREATE INDEX "contacts_by_name" ON "contacts" USING btree ("pool_id","search_key","id") WHERE deleted_at is null;--> statement-breakpoint
CREATE UNIQUE INDEX "contacts_by_address" ON "contacts" USING btree ("pool_id","address_key") WHERE deleted_at is null;--> statement-breakpoint
CREATE INDEX "contacts_name_words" ON "contacts" USING gin ("search_key" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "contacts_address_words" ON "contacts" USING gin ("address_key" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "contacts_keys" ON "contacts" USING gin ("keys" jsonb_path_ops);--> statement-breakpoint
CREATE INDEX "contacts_by_hash" ON "contacts" USING btree ("address_hash");--> statement-breakpoint
CREATE INDEX "contacts_by_owner" ON "contacts" USING btree ("owner_id");--> statement-breakpoint
CREATE INDEX "contacts_by_arrival" ON "contacts" USING btree ("created_at");--> statement-breakpoint
CREATE INDEX "deliveries_by_contact" ON "deliveries" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "deliveries_open_work" ON "deliveries" USING btree ("campaign_id","next_at") WHERE state in ('waiting', 'deferred', 'handing over');--> statement-breakpoint
CREATE INDEX "deliveries_not_opened" ON "deliveries" USING btree ("campaign_id") WHERE state = 'accepted' and first_opened_at is null;--> statement-breakpoint
CREATE INDEX "deliveries_opened" ON "deliveries" USING btree ("campaign_id","contact_id","first_opened_at") WHERE first_opened_at is not null;--> statement-breakpoint
CREATE INDEX "deliveries_clicked" ON "deliveries" USING btree ("campaign_id","contact_id","first_clicked_at") WHERE first_clicked_at is not null;--> statement-breakpoint
CREATE INDEX "events_by_campaign" ON "events" USING btree ("campaign_id","at");--> statement-breakpoint
CREATE INDEX "events_by_contact" ON "events" USING btree ("contact_id","at");--> statement-breakpoint
CREATE INDEX "held_back_by_contact" ON "held_back" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "returned_mail_by_time" ON "returned_mail" USING btree ("at");--> statement-breakpoint
CREATE INDEX "returned_mail_by_campaign" ON "returned_mail" USING btree ("campaign_id","kind");--> statement-breakpoint
CREATE INDEX "returned_mail_by_contact" ON "returned_mail" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "returned_mail_to_see_to" ON "returned_mail" USING btree ("at") WHERE handled_at is null;--> statement-breakpoint
CREATE INDEX "import_rows_by_outcome" ON "import_rows" USING btree ("import_id","outcome","contact_id");--> statement-breakpoint
CREATE INDEX "imports_by_state" ON "imports" USING btree ("state");--> statement-breakpoint
CREATE INDEX "letters_by_change" ON "letters" USING btree ("updated_at");--> statement-breakpoint
CREATE INDEX "file_pieces_file_id_index" ON "file_pieces" USING btree ("file_id");--> statement-breakpoint
CREATE INDEX "sessions_user_id_index" ON "sessions" USING btree ("user_id");--> statement-breakpoint
CREATE INDEX "sign_in_failures_subject_at_index" ON "sign_in_failures" USING btree ("subject","at");--> statement-breakpoint
ALTER TABLE "deliveries" SET (fillfactor = 80);--> statement-breakpoint
ALTER TABLE "contacts" SET (fillfactor = 90);
