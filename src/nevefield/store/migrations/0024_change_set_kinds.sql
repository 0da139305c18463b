ALTER TABLE change_set
  DROP CONSTRAINT change_set_kind,
  ADD CONSTRAINT change_set_kinds CHECK (kind IN ('opening', 'intake', 'undo', 'codes'));
