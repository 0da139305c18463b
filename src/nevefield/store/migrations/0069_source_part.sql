ALTER TABLE source
  ADD COLUMN part_id INT UNSIGNED NULL COMMENT 'of the roster; none for all of it',
  ADD COLUMN part_or_none INT UNSIGNED AS (COALESCE(part_id, 0)) STORED COMMENT 'for uniqueness',
  DROP CONSTRAINT source_name,
  ADD CONSTRAINT source_name UNIQUE (roster_id, name, part_or_none),
  ADD CONSTRAINT source_part FOREIGN KEY (part_id) REFERENCES roster_part (id)
