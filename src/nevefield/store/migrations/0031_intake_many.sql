ALTER TABLE intake
  DROP CONSTRAINT intake_kinds,
  ADD CONSTRAINT intake_all_kinds CHECK (kind IN ('file', 'hand', 'many', 'spread'));
