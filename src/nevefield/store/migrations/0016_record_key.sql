CREATE TABLE record_key (
  roster_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  content VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (roster_id, name, content),
  KEY record_key_record (record_id),
  CONSTRAINT record_key_of FOREIGN KEY (record_id) REFERENCES record (id)
)
