ALTER TABLE passed_act ADD KEY passed_act_by_destination (destination_id, id)
