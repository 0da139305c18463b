CREATE TABLE uncovered (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  roster_id INT UNSIGNED NOT NULL,
  reason VARCHAR(500) NOT NULL,
  since DATETIME(6) NOT NULL,
  until DATETIME(6) NOT NULL,
  KEY uncovered_now (account_id, until),
  CONSTRAINT uncovered_account FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT uncovered_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
