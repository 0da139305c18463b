CREATE TABLE mail_batch (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(64) NOT NULL COMMENT 'made by whoever sends: the same is not queued twice',
  title VARCHAR(200) NOT NULL,
  roster_id INT UNSIGNED NULL,
  template JSON NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT mail_batch_once UNIQUE (once),
  CONSTRAINT mail_batch_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT mail_batch_by FOREIGN KEY (account_id) REFERENCES account (id)
)
