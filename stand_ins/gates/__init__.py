"""Gate controllers, invented: doors that each remember cards of their own; a program of its own,
which the product never imports.
"""
