ALTER TABLE intake_file
  ADD COLUMN gone_at DATETIME(6) NULL COMMENT 'when its content was deleted by its time'
