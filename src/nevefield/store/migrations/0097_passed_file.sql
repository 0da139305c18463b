CREATE TABLE passed_file (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  destination_id INT UNSIGNED NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  records INT UNSIGNED NOT NULL,
  content LONGBLOB NULL COMMENT 'gone when somebody of it was erased, or newer ones are kept',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  fetched_at DATETIME(6) NULL COMMENT 'when they last fetched it',
  CONSTRAINT passed_file_to FOREIGN KEY (destination_id) REFERENCES destination (id),
  CONSTRAINT passed_file_by FOREIGN KEY (account_id) REFERENCES account (id)
)
