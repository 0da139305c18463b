ALTER TABLE account
  ADD COLUMN kind VARCHAR(10) NOT NULL DEFAULT 'person',
  ADD CONSTRAINT account_kind CHECK (kind IN ('person', 'program'))
