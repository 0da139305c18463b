"""Proposals: what is done to a roster only once a second person has approved exactly that."""

from nevefield.store.proposals import Proposal
from nevefield.store.scheduled import Scheduled

__all__ = ["Proposal", "Scheduled"]
