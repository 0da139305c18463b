CREATE TABLE letter_link (
  digest BINARY(32) NOT NULL PRIMARY KEY,
  addressee_id BIGINT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT letter_link_of FOREIGN KEY (addressee_id) REFERENCES letter_addressee (id) ON DELETE CASCADE
)
