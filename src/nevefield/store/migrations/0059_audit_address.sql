ALTER TABLE audit
  ADD COLUMN address VARCHAR(45) NOT NULL DEFAULT '' COMMENT 'from where; none of what the product does by itself'
