CREATE TABLE submission_line (
  round_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  outcome VARCHAR(10) NOT NULL COMMENT 'accepted, warned, rejected, to number; empty when the answer says nothing of it',
  number VARCHAR(60) NOT NULL,
  sent TEXT NOT NULL COMMENT 'JSON',
  told MEDIUMTEXT NULL COMMENT 'rules, the record held, candidates: JSON; null for a plain yes',
  PRIMARY KEY (round_id, record_id),
  KEY submission_line_record (record_id),
  CONSTRAINT submission_line_round FOREIGN KEY (round_id) REFERENCES submission_round (id),
  CONSTRAINT submission_line_record FOREIGN KEY (record_id) REFERENCES record (id)
)
