ALTER TABLE change_set
  ADD COLUMN part_id INT UNSIGNED NULL COMMENT 'of the roster; none for all of it',
  ADD CONSTRAINT change_set_part FOREIGN KEY (part_id) REFERENCES roster_part (id)
