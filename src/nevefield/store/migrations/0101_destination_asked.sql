ALTER TABLE destination
  ADD COLUMN asked_at DATETIME(6) NULL COMMENT 'when they last asked, to the minute'
