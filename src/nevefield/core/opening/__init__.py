"""Opening a roster: a Table in, a proposed definition, code lists and what was seen out; and what
such rosters have as a rule.
"""

from nevefield.core.opening.choices import Choices, read_choices
from nevefield.core.opening.proposing import Proposal, Seen, document_with_seen, propose
from nevefield.core.opening.starting import PEOPLE, begin_from_nothing, missing_fields

__all__ = [
    "PEOPLE",
    "Choices",
    "Proposal",
    "Seen",
    "begin_from_nothing",
    "document_with_seen",
    "missing_fields",
    "propose",
    "read_choices",
]
