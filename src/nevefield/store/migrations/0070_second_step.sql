CREATE TABLE second_step (
  account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  secret VARBINARY(200) NOT NULL COMMENT 'encrypted',
  begun_at DATETIME(6) NOT NULL,
  confirmed_at DATETIME(6) NULL COMMENT 'none until a code has fitted',
  last_counter BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'of the last code: none counts twice',
  CONSTRAINT second_step_account FOREIGN KEY (account_id) REFERENCES account (id)
)
