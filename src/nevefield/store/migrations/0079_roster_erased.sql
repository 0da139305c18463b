ALTER TABLE roster
  ADD COLUMN erased INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'people: what was worked out before is thrown away'
