CREATE TABLE card_design (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(40) NOT NULL,
  register_id INT UNSIGNED NOT NULL COMMENT 'the roster in which the cards are kept',
  version INT UNSIGNED NOT NULL COMMENT 'the one that is in force',
  at DATETIME(6) NOT NULL,
  CONSTRAINT card_design_name UNIQUE (name),
  CONSTRAINT card_design_register FOREIGN KEY (register_id) REFERENCES roster (id)
)
