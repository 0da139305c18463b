CREATE TABLE access (
  account_id INT UNSIGNED NOT NULL,
  roster_id INT UNSIGNED NOT NULL,
  level TINYINT UNSIGNED NOT NULL,
  PRIMARY KEY (account_id, roster_id),
  CONSTRAINT access_account FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT access_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT access_level CHECK (level BETWEEN 1 AND 4)
)
