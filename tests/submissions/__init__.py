"""Submissions: rounds against the stand-in of the authority."""
