CREATE TABLE code (
  list_id INT UNSIGNED NOT NULL,
  code VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  position INT UNSIGNED NOT NULL,
  label VARCHAR(200) NOT NULL DEFAULT '',
  parent VARCHAR(80) NOT NULL DEFAULT '',
  aliases JSON NOT NULL,
  first_day DATE NULL,
  last_day DATE NULL,
  PRIMARY KEY (list_id, code),
  CONSTRAINT code_list_of FOREIGN KEY (list_id) REFERENCES code_list (id),
  CONSTRAINT code_days CHECK (first_day IS NULL OR last_day IS NULL OR first_day <= last_day)
)
