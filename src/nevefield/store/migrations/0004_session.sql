CREATE TABLE session (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  csrf CHAR(43) NOT NULL,
  created_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  CONSTRAINT session_account FOREIGN KEY (account_id) REFERENCES account (id)
)
