"""Types at the borders of the core, where what comes in has no type of its own.

Nothing else in the core is untyped: what is read of a JSON document or of another library's object
is given a type where it is read.
"""

from __future__ import annotations

from typing import Any, TypeAlias

import numpy as np
from numpy.typing import NDArray

__all__ = ["Array", "Arrow", "Foreign", "Json", "Keys", "Premises", "Rows"]

Json: TypeAlias = Any  # what a JSON document can hold (RFC 8259): checked where it is read
Arrow: TypeAlias = Any  # an Arrow array, of which the library gives no types
Foreign: TypeAlias = Any  # an object of another library that gives no types
Array: TypeAlias = NDArray[Any]  # of whatever is counted or kept
Rows: TypeAlias = NDArray[np.intp] | slice  # some rows, or all
Keys: TypeAlias = Any  # what something is known by in a dictionary
# What a part of an evaluation was made of: the same again when each is the very object, or equal.
Premises: TypeAlias = tuple[Any, ...]
