"""A mail server that catches everything and shows it."""
