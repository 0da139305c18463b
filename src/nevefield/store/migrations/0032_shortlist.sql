CREATE TABLE shortlist (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  title VARCHAR(120) NOT NULL,
  live JSON NULL COMMENT 'the condition of a live one; null for one that is kept by hand',
  is_shared BOOLEAN NOT NULL DEFAULT TRUE COMMENT 'whether others see it too',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY shortlist_title (roster_id, title),
  CONSTRAINT shortlist_roster FOREIGN KEY (roster_id) REFERENCES roster (id),
  CONSTRAINT shortlist_account FOREIGN KEY (account_id) REFERENCES account (id)
)
