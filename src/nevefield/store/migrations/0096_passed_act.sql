CREATE TABLE passed_act (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  destination_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  act VARCHAR(20) NOT NULL COMMENT 'joins, changes or ends',
  moved VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'the fields of theirs that changed',
  answer VARCHAR(60) NOT NULL DEFAULT '' COMMENT 'what they answered, in short',
  ms INT UNSIGNED NULL COMMENT 'how long they took',
  version INT UNSIGNED NOT NULL COMMENT 'of the roster',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  KEY passed_act_of (record_id, destination_id),
  CONSTRAINT passed_act_to FOREIGN KEY (destination_id) REFERENCES destination (id),
  CONSTRAINT passed_act_record FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT passed_act_by FOREIGN KEY (account_id) REFERENCES account (id)
)
