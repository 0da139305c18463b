CREATE TABLE person_said (
  roster_id INT UNSIGNED NOT NULL,
  likeness BINARY(16) NOT NULL COMMENT 'digest of what a row said of its person',
  record_id BIGINT UNSIGNED NOT NULL,
  is_same BOOLEAN NOT NULL COMMENT 'whether the two are one',
  intake_id INT UNSIGNED NULL COMMENT 'where it was said',
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (roster_id, likeness, record_id),
  CONSTRAINT person_said_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT person_said_record FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT person_said_intake FOREIGN KEY (intake_id) REFERENCES intake (id)
)
