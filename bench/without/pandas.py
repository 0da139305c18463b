"""Stands before pandas where the product is measured: it does not bring it, and Arrow would load
it wherever it is installed.
"""

raise ImportError(
    "the product is measured as it is installed, without what only the other script needs"
)
