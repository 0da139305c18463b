ALTER TABLE access
  ADD COLUMN part_id INT UNSIGNED NULL COMMENT 'of the roster; none for all of it',
  ADD CONSTRAINT access_part FOREIGN KEY (part_id) REFERENCES roster_part (id)
