CREATE TABLE destination_version (
  destination_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (destination_id, number),
  CONSTRAINT destination_version_of FOREIGN KEY (destination_id) REFERENCES destination (id),
  CONSTRAINT destination_version_by FOREIGN KEY (account_id) REFERENCES account (id)
)
