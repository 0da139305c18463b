ALTER TABLE proposal
  DROP CONSTRAINT proposal_states,
  DROP CONSTRAINT proposal_two_people,
  ADD CONSTRAINT proposal_states CHECK (state IN ('open', 'agreed', 'approved', 'done', 'sent_back', 'withdrawn', 'replaced')),
  ADD CONSTRAINT proposal_two_people CHECK (state NOT IN ('agreed', 'approved', 'done') OR decided_by <> account_id OR account_id IS NULL)
