ALTER TABLE intake
  DROP CONSTRAINT intake_every_kind,
  ADD CONSTRAINT intake_every_kind CHECK (kind IN ('file', 'hand', 'many', 'spread', 'rules', 'asked', 'answered'))
