CREATE TABLE card_design_version (
  design_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (design_id, number),
  CONSTRAINT card_design_version_of FOREIGN KEY (design_id) REFERENCES card_design (id),
  CONSTRAINT card_design_version_by FOREIGN KEY (account_id) REFERENCES account (id)
)
