ALTER TABLE mail
  DROP CONSTRAINT mail_kind,
  ADD CONSTRAINT mail_kind CHECK (kind IN ('test', 'link', 'people', 'asking'))
