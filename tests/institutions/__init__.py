"""Institutions that have nothing to do with the demo: rosters, files and planted problems of
other hands and habits.
"""
