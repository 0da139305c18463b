CREATE TABLE card_made (
  card_id BIGINT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'its record in the register',
  run_id INT UNSIGNED NOT NULL,
  place INT UNSIGNED NOT NULL COMMENT 'in the run, from 0',
  record_id BIGINT UNSIGNED NOT NULL COMMENT 'whose it is',
  face VARCHAR(40) NOT NULL,
  texts JSON NOT NULL COMMENT 'what stands on it, by item',
  rests JSON NOT NULL COMMENT 'the values that it rests on, and which items stand on it',
  photo BINARY(32) NULL,
  spoiled_at DATETIME(6) NULL,
  handed_at DATETIME(6) NULL,
  handed_by INT UNSIGNED NULL,
  CONSTRAINT card_made_place UNIQUE (run_id, place),
  CONSTRAINT card_made_run FOREIGN KEY (run_id) REFERENCES card_run (id),
  CONSTRAINT card_made_card FOREIGN KEY (card_id) REFERENCES record (id),
  CONSTRAINT card_made_record FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT card_made_photo FOREIGN KEY (photo) REFERENCES card_image (digest),
  CONSTRAINT card_made_handed_by FOREIGN KEY (handed_by) REFERENCES account (id)
)
