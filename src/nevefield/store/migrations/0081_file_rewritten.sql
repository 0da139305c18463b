ALTER TABLE intake_file
  ADD COLUMN rewritten INT UNSIGNED NOT NULL DEFAULT 0
    COMMENT 'how often it was written anew without somebody who was erased'
    AFTER held_secrets
