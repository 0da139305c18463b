ALTER TABLE proposed_resource
  ADD COLUMN is_idle BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'looked at, and nothing came of it: a group of nobody'
