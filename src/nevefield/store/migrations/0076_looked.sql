CREATE TABLE looked (
  account_id INT UNSIGNED NOT NULL,
  roster_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL COMMENT '0: a list',
  hour DATETIME NOT NULL COMMENT 'in which it was looked at first',
  PRIMARY KEY (hour, account_id, roster_id, record_id),
  KEY looked_record (record_id),
  CONSTRAINT looked_account FOREIGN KEY (account_id) REFERENCES account (id),
  CONSTRAINT looked_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
