ALTER TABLE intake_file
  ADD COLUMN held_secrets BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'content is the rows without the secrets, not the file';
