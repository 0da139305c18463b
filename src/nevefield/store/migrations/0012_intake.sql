CREATE TABLE intake (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  title VARCHAR(200) NOT NULL,
  file_name VARCHAR(255) NOT NULL,
  file_hash BINARY(32) NOT NULL,
  source VARCHAR(120) NOT NULL DEFAULT '',
  coverage VARCHAR(20) NOT NULL DEFAULT 'listed',
  steps INT UNSIGNED NOT NULL DEFAULT 0,
  tally JSON NULL COMMENT 'as last worked out, for lists only',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT intake_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT intake_file_of FOREIGN KEY (file_hash) REFERENCES intake_file (hash),
  CONSTRAINT intake_account FOREIGN KEY (account_id) REFERENCES account (id)
)
