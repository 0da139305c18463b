ALTER TABLE submission_round
  ADD CONSTRAINT submission_round_states CHECK (state IN ('built', 'sent', 'byhand', 'answered', 'taken', 'done', 'refused'))
