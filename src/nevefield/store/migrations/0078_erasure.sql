CREATE TABLE erasure (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  asked_by VARCHAR(120) NOT NULL COMMENT 'in words: the person, a guardian, a court',
  reason VARCHAR(500) NOT NULL,
  counts LONGTEXT NOT NULL COMMENT 'what was taken out of where, JSON',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY erasure_record (record_id),
  CONSTRAINT erasure_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT erasure_of FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT erasure_by FOREIGN KEY (account_id) REFERENCES account (id)
)
