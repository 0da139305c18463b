"""Strange files by the habits of offices and programs that nobody here knows, each with the table that is in it.

`making.py` says how one is written down; the others hold them: what stands around a table (`around`), within it (`within`),
dumps of old systems (`dumps`), encodings (`written`), workbooks (`sheets`), documents that hold a table (`documents`).
"""
