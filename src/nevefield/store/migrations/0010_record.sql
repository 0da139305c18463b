CREATE TABLE record (
  id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  created INT UNSIGNED NOT NULL COMMENT 'roster version in which it joined',
  KEY record_created (roster_id, created),
  CONSTRAINT record_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
