CREATE TABLE program_token (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  digest BINARY(32) NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  last_day DATE NULL,
  used_at DATETIME(6) NULL,
  ended_at DATETIME(6) NULL,
  UNIQUE KEY program_token_digest (digest),
  CONSTRAINT program_token_account FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT program_token_maker FOREIGN KEY (made_by) REFERENCES account (id)
)
