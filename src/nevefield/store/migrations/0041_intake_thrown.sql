ALTER TABLE intake
  ADD COLUMN thrown_at DATETIME(6) NULL COMMENT 'when it was thrown away: a file that was dropped by mistake',
  ADD COLUMN thrown_by INT UNSIGNED NULL,
  ADD CONSTRAINT intake_thrown_by FOREIGN KEY (thrown_by) REFERENCES account (id)
