CREATE TABLE shortlist_record (
  shortlist_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (shortlist_id, record_id),
  CONSTRAINT shortlist_record_of FOREIGN KEY (shortlist_id) REFERENCES shortlist (id) ON DELETE CASCADE,
  CONSTRAINT shortlist_record_record FOREIGN KEY (record_id) REFERENCES record (id)
)
