CREATE TABLE recipe (
  source_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  intake_id INT UNSIGNED NULL COMMENT 'learnt from; null when written by hand',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (source_id, version),
  CONSTRAINT recipe_source FOREIGN KEY (source_id) REFERENCES source (id),
  CONSTRAINT recipe_intake FOREIGN KEY (intake_id) REFERENCES intake (id),
  CONSTRAINT recipe_account FOREIGN KEY (account_id) REFERENCES account (id)
)
