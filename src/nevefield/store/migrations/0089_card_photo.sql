CREATE TABLE card_photo (
  record_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  digest BINARY(32) NOT NULL,
  file_name VARCHAR(200) NOT NULL COMMENT 'from which it came',
  frame JSON NOT NULL COMMENT 'x, y, width and height of what is shown, as shares of the picture',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT card_photo_of FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT card_photo_image FOREIGN KEY (digest) REFERENCES card_image (digest),
  CONSTRAINT card_photo_by FOREIGN KEY (account_id) REFERENCES account (id)
)
