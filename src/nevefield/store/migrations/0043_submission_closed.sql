ALTER TABLE submission
  ADD COLUMN closed_at DATETIME(6) NULL COMMENT 'when it was closed: nothing of it is sent or decided any more',
  ADD COLUMN starts_from INT UNSIGNED NULL COMMENT 'of a practice: the live submission whose answers it begins with',
  ADD CONSTRAINT submission_starts_from FOREIGN KEY (starts_from) REFERENCES submission (id)
