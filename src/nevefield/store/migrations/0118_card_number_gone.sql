CREATE TABLE card_number_gone (
  roster_id INT UNSIGNED NOT NULL COMMENT 'the register that they left',
  facility VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  number VARCHAR(100) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL COMMENT 'of a card that was erased',
  at DATETIME(6) NOT NULL COMMENT 'when it left',
  PRIMARY KEY (roster_id, facility, number),
  CONSTRAINT card_number_gone_roster FOREIGN KEY (roster_id) REFERENCES roster (id)
)
