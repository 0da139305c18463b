"""The Registry of Mariners, an invented authority: takes returns, numbers people, keeps records
of its own.
"""
