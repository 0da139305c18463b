CREATE TABLE device (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL COMMENT 'of the last sign-in on it',
  CONSTRAINT device_account FOREIGN KEY (account_id) REFERENCES account (id)
)
