"""The chain of the audit trail."""

from nevefield.core.trailing.chain import BEGIN, CUT, Broken, Line, Seal, check_chain, digest_of

__all__ = ["BEGIN", "CUT", "Broken", "Line", "Seal", "check_chain", "digest_of"]
