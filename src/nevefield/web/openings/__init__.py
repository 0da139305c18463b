"""Opening rosters, over HTTP."""
