"""Outside services that ship with the product for trying it: each a program of its own, which
the product only talks to.
"""
