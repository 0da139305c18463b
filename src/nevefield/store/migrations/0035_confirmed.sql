CREATE TABLE confirmed (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  kind VARCHAR(120) NOT NULL,
  group_key VARCHAR(400) NOT NULL COMMENT 'the values that say the group, joined',
  record_id BIGINT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  KEY confirmed_group (roster_id, kind, group_key),
  CONSTRAINT confirmed_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT confirmed_record FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT confirmed_account FOREIGN KEY (account_id) REFERENCES account (id)
)
