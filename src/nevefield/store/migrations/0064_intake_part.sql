ALTER TABLE intake
  ADD COLUMN part_id INT UNSIGNED NULL COMMENT 'of the roster; none for all of it',
  ADD CONSTRAINT intake_part FOREIGN KEY (part_id) REFERENCES roster_part (id)
