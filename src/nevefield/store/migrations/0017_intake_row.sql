CREATE TABLE intake_row (
  change_set_id INT UNSIGNED NOT NULL,
  line INT UNSIGNED NOT NULL,
  outcome VARCHAR(10) NOT NULL,
  record_id BIGINT UNSIGNED NULL,
  message TEXT NOT NULL,
  PRIMARY KEY (change_set_id, line),
  CONSTRAINT intake_row_of FOREIGN KEY (change_set_id) REFERENCES change_set (id),
  CONSTRAINT intake_row_outcome CHECK (outcome IN ('new', 'changed', 'same', 'waiting', 'stopped', 'held', 'left_out'))
)
