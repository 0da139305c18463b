UPDATE proposal SET state = 'approved' WHERE state = 'agreed'
