CREATE TABLE pass_link (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  kind VARCHAR(10) NOT NULL COMMENT 'first: makes the first administrator; invite, reset: sets the password of an account',
  account_id INT UNSIGNED NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  KEY pass_link_account (account_id),
  CONSTRAINT pass_link_of FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT pass_link_by FOREIGN KEY (made_by) REFERENCES account (id),
  CONSTRAINT pass_link_kind CHECK (kind IN ('first', 'invite', 'reset'))
)
