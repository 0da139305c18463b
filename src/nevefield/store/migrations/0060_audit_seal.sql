CREATE TABLE audit_seal (
  number BIGINT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'from 1, without a gap',
  audit_id BIGINT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL COMMENT 'when it was sealed: the same of all that were sealed together',
  digest BINARY(32) NOT NULL COMMENT 'of the line and of the digest before',
  UNIQUE KEY audit_seal_line (audit_id)
)
