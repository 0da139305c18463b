ALTER TABLE intake
  ADD COLUMN kind VARCHAR(10) NOT NULL DEFAULT 'file' COMMENT 'file: came from outside; hand: one record, edited here',
  ADD CONSTRAINT intake_kinds CHECK (kind IN ('file', 'hand'));
