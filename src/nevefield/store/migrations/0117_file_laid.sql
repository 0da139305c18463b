ALTER TABLE passed_file
  ADD COLUMN waits TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'whether it is to be laid in a folder',
  ADD COLUMN laid_at DATETIME(6) NULL,
  ADD COLUMN laid_as VARCHAR(255) NOT NULL DEFAULT '' COMMENT 'its name there',
  ADD COLUMN trouble VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'why it does not lie there yet',
  ADD COLUMN tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN next_at DATETIME(6) NULL COMMENT 'before which it is not tried again',
  ADD KEY passed_file_waits (waits, destination_id, id)
