ALTER TABLE change_set
  DROP CONSTRAINT change_set_every_kind,
  ADD CONSTRAINT change_set_kind_known CHECK (kind IN ('opening', 'intake', 'undo', 'codes', 'hand', 'merge', 'day', 'erase', 'run', 'card'))
