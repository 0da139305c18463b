"""Opening a roster from a file: a Table in, a proposed definition, code lists and what was seen
out.
"""

from nevefield.core.opening.proposing import Proposal, Seen, document_with_seen, propose

__all__ = ["Proposal", "Seen", "document_with_seen", "propose"]
