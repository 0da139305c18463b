ALTER TABLE proposal
  ADD COLUMN part_id INT UNSIGNED NULL COMMENT 'of the roster; none for all of it',
  ADD CONSTRAINT proposal_part FOREIGN KEY (part_id) REFERENCES roster_part (id)
