ALTER TABLE account
  ADD COLUMN closed_at DATETIME(6) NULL COMMENT 'nobody signs in any more; what was done stays',
  ADD COLUMN last_day DATE NULL COMMENT 'on which somebody may sign in',
  ADD COLUMN password_at DATETIME(6) NULL COMMENT 'when the password was chosen',
  ADD COLUMN seen_at DATETIME(6) NULL COMMENT 'when something was last done'
