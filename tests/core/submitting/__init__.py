"""Returns to an authority: what is known before, and where records stand."""
