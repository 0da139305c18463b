CREATE TABLE keeping_term (
  kind VARCHAR(10) NOT NULL PRIMARY KEY COMMENT 'files, rows, left, trail, looked',
  days INT UNSIGNED NOT NULL COMMENT 'that it is kept',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT keeping_term_by FOREIGN KEY (account_id) REFERENCES account (id)
)
