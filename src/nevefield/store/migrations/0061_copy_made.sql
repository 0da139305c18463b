CREATE TABLE copy_made (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  ordered_by INT UNSIGNED NULL COMMENT 'none of those that are made by themselves',
  ordered_at DATETIME(6) NOT NULL,
  state VARCHAR(10) NOT NULL DEFAULT 'ordered',
  ended_at DATETIME(6) NULL,
  file_name VARCHAR(80) NOT NULL DEFAULT '',
  size BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'bytes',
  row_count BIGINT UNSIGNED NOT NULL DEFAULT 0,
  said VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'why it failed',
  KEY copy_made_state (state),
  CONSTRAINT copy_made_by FOREIGN KEY (ordered_by) REFERENCES account (id),
  CONSTRAINT copy_made_state CHECK (state IN ('ordered', 'making', 'trying', 'good', 'failed'))
)
