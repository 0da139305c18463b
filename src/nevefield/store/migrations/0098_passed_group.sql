CREATE TABLE passed_group (
  destination_id INT UNSIGNED NOT NULL,
  digest BINARY(16) NOT NULL COMMENT 'of the name: names are compared to the last letter',
  name VARCHAR(500) NOT NULL,
  ref VARCHAR(200) NOT NULL COMMENT 'by which they know it',
  PRIMARY KEY (destination_id, digest),
  CONSTRAINT passed_group_to FOREIGN KEY (destination_id) REFERENCES destination (id)
)
