"""What schemas and bounds of the protocol are called, for those who need nothing else of it: its
packages take a while to load.

Source: RFC 7643, 10.3; RFC 7644, 3.4.2 and 3.7.
"""

from __future__ import annotations

__all__ = [
    "ENTERPRISE",
    "GROUP",
    "MOST_BYTES",
    "MOST_FOUND",
    "MOST_OPERATIONS",
    "PROPOSAL",
    "USER",
]

USER = "urn:ietf:params:scim:schemas:core:2.0:User"
GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
ENTERPRISE = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User"
# what is told of something that they wrote and nobody decided of yet
PROPOSAL = "urn:nevefield:params:scim:schemas:extension:proposal:1.0:Proposal"
MOST_FOUND = 500  # resources in an answer
MOST_OPERATIONS, MOST_BYTES = 1_000, 2_000_000  # of a bulk request; of any
