ALTER TABLE "imports" ADD COLUMN "header_at" integer DEFAULT 0;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "beginning" jsonb DEFAULT '[]'::jsonb NOT NULL;