"""Cards: designs, who needs one, runs, photographs."""
