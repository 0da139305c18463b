INSERT INTO letter_addressee (batch_id, record_id)
SELECT DISTINCT batch_id, record_id FROM mail
WHERE kind = 'people' AND batch_id IS NOT NULL AND record_id IS NOT NULL
