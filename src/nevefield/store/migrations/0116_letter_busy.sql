ALTER TABLE letter_addressee
  ADD COLUMN busy_until DATETIME(6) NULL COMMENT 'until when an answer is under way'
