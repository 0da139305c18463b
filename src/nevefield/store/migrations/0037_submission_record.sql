CREATE TABLE submission_record (
  submission_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (submission_id, record_id),
  CONSTRAINT submission_record_of FOREIGN KEY (submission_id) REFERENCES submission (id),
  CONSTRAINT submission_record_record FOREIGN KEY (record_id) REFERENCES record (id)
)
