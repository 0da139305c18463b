ALTER TABLE session
  ADD COLUMN seen_at DATETIME(6) NOT NULL DEFAULT '1970-01-01' COMMENT 'when somebody did something in it last',
  ADD COLUMN address VARCHAR(45) NOT NULL DEFAULT '' COMMENT 'from where it was begun'
