CREATE TABLE mail_server (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'there is one',
  document JSON NOT NULL COMMENT 'host, port, security, user, and who writes',
  password VARBINARY(2000) NULL COMMENT 'encrypted',
  is_on BOOLEAN NOT NULL DEFAULT TRUE,
  problem VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'why nothing goes',
  tries INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'since it last took something',
  next_at DATETIME(6) NULL COMMENT 'when it is tried again',
  CONSTRAINT mail_server_one CHECK (id = 1)
)
