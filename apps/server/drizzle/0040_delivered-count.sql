-- Letters that came back later were counted among those that somebody got. The check of what is kept of people, which an
-- office without one begins with, counts everybody anew.
ALTER TABLE "contacts" RENAME COLUMN "sent_count" TO "delivered_count";
