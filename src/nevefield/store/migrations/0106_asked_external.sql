CREATE TABLE asked_external (
  destination_id INT UNSIGNED NOT NULL,
  number VARCHAR(40) NOT NULL COMMENT 'by which they know the resource',
  external VARCHAR(200) NOT NULL COMMENT 'by which they know it themselves',
  record_id BIGINT UNSIGNED NULL,
  PRIMARY KEY (destination_id, number),
  KEY asked_external_record (record_id),
  CONSTRAINT asked_external_to FOREIGN KEY (destination_id) REFERENCES destination (id)
)
