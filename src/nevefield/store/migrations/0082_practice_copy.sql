CREATE TABLE practice_copy (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'always 1',
  state VARCHAR(10) NOT NULL COMMENT 'of what was ordered last',
  ordered_by INT UNSIGNED NULL,
  ordered_at DATETIME(6) NOT NULL,
  made_at DATETIME(6) NULL COMMENT 'of the one that is there; null where there is none',
  doing VARCHAR(120) NOT NULL DEFAULT '',
  done INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  contents JSON NULL COMMENT 'of the one that is there: what it has, and what could not be made so',
  said VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'why it failed',
  CONSTRAINT practice_copy_once CHECK (id = 1),
  CONSTRAINT practice_copy_by FOREIGN KEY (ordered_by) REFERENCES account (id),
  CONSTRAINT practice_copy_state CHECK (state IN ('ordered', 'making', 'ready', 'failed', 'none'))
)
