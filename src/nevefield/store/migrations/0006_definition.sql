CREATE TABLE definition (
  roster_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (roster_id, number),
  CONSTRAINT definition_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT definition_account FOREIGN KEY (account_id) REFERENCES account (id)
)
