CREATE TABLE roster (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  title VARCHAR(120) NOT NULL,
  version INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'of its records: one more with each change set',
  definition INT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'number of the definition in force',
  UNIQUE KEY roster_name (name)
)
