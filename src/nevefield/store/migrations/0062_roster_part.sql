CREATE TABLE roster_part (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  roster_id INT UNSIGNED NOT NULL,
  wanted LONGTEXT NOT NULL COMMENT 'the condition, JSON; never altered',
  digest BINARY(32) NOT NULL COMMENT 'of the condition',
  UNIQUE KEY roster_part_once (roster_id, digest),
  CONSTRAINT roster_part_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
