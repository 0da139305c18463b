CREATE TABLE scheduled_act (
  scheduled_id INT UNSIGNED NOT NULL,
  place INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NULL COMMENT 'null for who joins',
  fields JSON NULL COMMENT 'by field the value before and after; null for who leaves',
  PRIMARY KEY (scheduled_id, place),
  KEY scheduled_act_record (record_id),
  CONSTRAINT scheduled_act_of FOREIGN KEY (scheduled_id) REFERENCES scheduled (id)
)
