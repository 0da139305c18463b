ALTER TABLE intake
  ADD COLUMN due DATE NULL COMMENT 'the day by which it has to be in the roster, where somebody said one'
