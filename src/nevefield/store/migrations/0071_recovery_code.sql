CREATE TABLE recovery_code (
  account_id INT UNSIGNED NOT NULL,
  digest BINARY(32) NOT NULL,
  used_at DATETIME(6) NULL,
  PRIMARY KEY (account_id, digest),
  CONSTRAINT recovery_code_account FOREIGN KEY (account_id) REFERENCES account (id)
)
