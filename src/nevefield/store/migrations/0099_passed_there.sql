CREATE INDEX passed_there ON passed (destination_id, is_there, roster_id)
