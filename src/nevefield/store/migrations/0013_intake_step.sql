CREATE TABLE intake_step (
  intake_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  step JSON NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (intake_id, number),
  CONSTRAINT intake_step_of FOREIGN KEY (intake_id) REFERENCES intake (id),
  CONSTRAINT intake_step_account FOREIGN KEY (account_id) REFERENCES account (id)
)
