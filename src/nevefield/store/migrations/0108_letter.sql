ALTER TABLE mail_batch
  ADD COLUMN field VARCHAR(200) NOT NULL DEFAULT '' COMMENT 'that has their addresses',
  ADD COLUMN asks JSON NULL COMMENT 'what they are asked by a link; NULL: nothing',
  ADD COLUMN ended_at DATETIME(6) NULL COMMENT 'when its links were withdrawn',
  ADD COLUMN reminds INT UNSIGNED NULL COMMENT 'of which it reminds',
  ADD CONSTRAINT mail_batch_reminds FOREIGN KEY (reminds) REFERENCES mail_batch (id)
