CREATE TABLE work (
  token CHAR(32) NOT NULL PRIMARY KEY COMMENT 'made up by who asked',
  account_id INT UNSIGNED NULL,
  doing VARCHAR(200) NOT NULL,
  done INT UNSIGNED NOT NULL,
  total INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT work_account FOREIGN KEY (account_id) REFERENCES account (id)
)
