ALTER TABLE account
  ADD COLUMN may_uncover BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'sensitive fields, for a task'
