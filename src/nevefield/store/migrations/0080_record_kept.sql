ALTER TABLE record
  ADD COLUMN kept_for VARCHAR(500) NULL COMMENT 'why nobody may erase it',
  ADD COLUMN kept_by INT UNSIGNED NULL,
  ADD COLUMN kept_at DATETIME(6) NULL
