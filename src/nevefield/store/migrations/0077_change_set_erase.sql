ALTER TABLE change_set
  DROP CONSTRAINT change_set_all_kinds,
  ADD CONSTRAINT change_set_every_kind CHECK (kind IN ('opening', 'intake', 'undo', 'codes', 'hand', 'merge', 'day', 'erase'))
