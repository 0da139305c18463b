CREATE TABLE door (
  subject VARCHAR(160) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY COMMENT 'a device, a name or an address',
  failures INT UNSIGNED NOT NULL COMMENT 'tries that were begun and did not fit',
  at DATETIME(6) NOT NULL COMMENT 'of the last one',
  next_at DATETIME(6) NOT NULL COMMENT 'before it no other try is made'
)
