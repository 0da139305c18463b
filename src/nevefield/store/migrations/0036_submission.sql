CREATE TABLE submission (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  title VARCHAR(200) NOT NULL,
  side VARCHAR(10) NOT NULL COMMENT 'practice or live',
  layout LONGTEXT NOT NULL COMMENT 'ours for the authority, JSON',
  published LONGTEXT NOT NULL COMMENT 'what the authority publishes, as it came',
  chosen TEXT NULL COMMENT 'the condition by which records are in it, JSON; null for all',
  day DATE NOT NULL COMMENT 'of reference',
  due DATE NULL,
  policy VARCHAR(200) NOT NULL COMMENT 'JSON',
  touched INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'grows with everything that is decided or answered',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT submission_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT submission_account FOREIGN KEY (account_id) REFERENCES account (id)
)
