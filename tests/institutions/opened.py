"""An institution's rosters and codes in a database."""

from __future__ import annotations

from nevefield.context import Context
from nevefield.core.codes import read_codes
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters
from tests.institutions.making import Institution

__all__ = ["open_institution"]


def open_institution(context: Context, institution: Institution) -> int:
    """Open its rosters, those that others refer to first; returns the number of its own."""
    with context.database.transaction() as connection:
        for name, codes in read_codes(institution.codes).items():
            rosters.replace_code_list(connection, name, codes.codes)
    for document, records in institution.others.values():
        open_roster_with(context, document, records)
    return open_roster_with(context, institution.document, institution.roster)
