ALTER TABLE change_set
  ADD COLUMN part_of INT UNSIGNED NULL COMMENT 'the change set of which it takes a part back',
  ADD CONSTRAINT change_set_part_of FOREIGN KEY (part_of) REFERENCES change_set (id),
  DROP CONSTRAINT change_set_kinds,
  ADD CONSTRAINT change_set_all_kinds CHECK (kind IN ('opening', 'intake', 'undo', 'codes', 'hand', 'merge', 'day'));
