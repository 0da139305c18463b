CREATE TABLE record_version (
  record_id BIGINT UNSIGNED NOT NULL,
  valid_from INT UNSIGNED NOT NULL COMMENT 'roster version',
  valid_to INT UNSIGNED NULL COMMENT 'roster version in which it stopped to hold; NULL: holds',
  roster_id INT UNSIGNED NOT NULL,
  line INT UNSIGNED NULL COMMENT 'of the file that it came from',
  content JSON NOT NULL,
  PRIMARY KEY (record_id, valid_from),
  KEY record_version_current (roster_id, valid_to),
  KEY record_version_from (roster_id, valid_from),
  CONSTRAINT record_version_of FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT record_version_order CHECK (valid_to IS NULL OR valid_to > valid_from)
)
