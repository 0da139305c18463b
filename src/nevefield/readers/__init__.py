"""Files that come from outside are read in a process of their own, with limits of time and
memory; nobody else waits for it.
"""

from nevefield.readers.pool import Allowance, Readers

__all__ = ["Allowance", "Readers"]
