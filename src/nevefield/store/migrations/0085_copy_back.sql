CREATE TABLE copy_back (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'always 1',
  file_name VARCHAR(80) NOT NULL COMMENT 'of the copy that is to be brought back',
  ordered_by INT UNSIGNED NULL,
  ordered_at DATETIME(6) NOT NULL,
  said VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'why it could not be; nothing was altered',
  CONSTRAINT copy_back_once CHECK (id = 1),
  CONSTRAINT copy_back_by FOREIGN KEY (ordered_by) REFERENCES account (id)
)
