CREATE TABLE opening (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  file_name VARCHAR(255) NOT NULL,
  file_hash BINARY(32) NOT NULL COMMENT 'of the file as it came',
  content LONGBLOB NULL COMMENT 'the file, or its rows without secrets; none once the roster is open',
  held_secrets BOOLEAN NOT NULL DEFAULT FALSE,
  choices JSON NOT NULL COMMENT 'what was said of the proposal',
  version INT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'one more with each change',
  roster_id INT UNSIGNED NULL COMMENT 'that was opened',
  lists JSON NOT NULL DEFAULT '[]' COMMENT 'code lists that were made with it',
  at DATETIME(6) NOT NULL,
  KEY opening_at (at),
  CONSTRAINT opening_account FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT opening_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
