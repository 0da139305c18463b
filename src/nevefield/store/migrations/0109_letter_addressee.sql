CREATE TABLE letter_addressee (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  batch_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  on_paper BOOLEAN NOT NULL DEFAULT FALSE,
  printed_at DATETIME(6) NULL,
  seen_at DATETIME(6) NULL COMMENT 'when they opened their link',
  tries INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'with which they did not show that it is they',
  answered_at DATETIME(6) NULL,
  answer VARCHAR(10) NOT NULL DEFAULT '' COMMENT 'confirmed or corrected',
  said JSON NULL COMMENT 'by field what they say; gone when it is in an intake',
  fields JSON NULL COMMENT 'which fields they corrected',
  intake_id INT UNSIGNED NULL,
  CONSTRAINT letter_once UNIQUE (batch_id, record_id),
  KEY letter_waits (answer, intake_id),
  CONSTRAINT letter_of FOREIGN KEY (batch_id) REFERENCES mail_batch (id),
  CONSTRAINT letter_to FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT letter_intake FOREIGN KEY (intake_id) REFERENCES intake (id)
)
