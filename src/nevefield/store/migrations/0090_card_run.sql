CREATE TABLE card_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  design_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL COMMENT 'of the design',
  change_set_id INT UNSIGNED NOT NULL COMMENT 'with which the numbers were given',
  cards INT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  printed_at DATETIME(6) NULL COMMENT 'when its sheets were first given out',
  CONSTRAINT card_run_design FOREIGN KEY (design_id, version) REFERENCES card_design_version (design_id, number),
  CONSTRAINT card_run_change_set FOREIGN KEY (change_set_id) REFERENCES change_set (id),
  CONSTRAINT card_run_by FOREIGN KEY (account_id) REFERENCES account (id)
)
