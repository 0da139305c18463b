ALTER TABLE destination
  ADD COLUMN calls BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the number of the last call'
