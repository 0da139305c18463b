ALTER TABLE intake
  DROP CONSTRAINT intake_all_kinds,
  ADD CONSTRAINT intake_every_kind CHECK (kind IN ('file', 'hand', 'many', 'spread', 'rules'));
