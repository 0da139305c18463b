CREATE TABLE card_image (
  digest BINARY(32) NOT NULL PRIMARY KEY COMMENT 'SHA-256 of the content',
  content LONGBLOB NOT NULL COMMENT 'JPEG or PNG as we wrote it, without what cameras add',
  kind VARCHAR(4) NOT NULL,
  width INT UNSIGNED NOT NULL,
  height INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT card_image_kind CHECK (kind IN ('jpeg', 'png'))
)
