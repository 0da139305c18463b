"""A directory, invented, that is told by SCIM 2.0: a program of its own, which the product never
imports.
"""
