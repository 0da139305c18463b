CREATE TABLE unforeseen (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  doing VARCHAR(160) NOT NULL COMMENT 'what was asked for: method and route, or the kind of a job',
  kind VARCHAR(100) NOT NULL COMMENT 'of the error',
  source VARCHAR(160) NOT NULL COMMENT 'module and line where it arose',
  times INT UNSIGNED NOT NULL COMMENT 'since it was settled last',
  mark CHAR(8) NOT NULL COMMENT 'of the last, as it stands in the log',
  first_at DATETIME(6) NOT NULL,
  last_at DATETIME(6) NOT NULL,
  settled_at DATETIME(6) NULL,
  UNIQUE KEY unforeseen_what (doing, kind, source)
)
