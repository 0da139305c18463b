"""Values that stand in some rows in place of the file's: kept keys, a person's joined values,
what rules make of them.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Keys, Premises

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.edits.memo import Memo

__all__ = ["derive"]


def derive(
    memo: Memo,
    name: Keys,
    typed: Typed,
    of: Premises,
    values: Callable[[NDArray[np.intp]], Mapping[int, str | None] | None],
    whole: Callable[[], Typed] | None = None,
) -> Typed:
    """Put other values into the rows of a field that should have them; after an edit, only its rows
    are looked at.

    Args:
        memo: What was made before.
        name: Of the part there.
        typed: The values by row.
        of: What the other values are made of, beside these.
        values: Gives the other values of rows, by row; rows beside those asked for may be among
            them. None where more is to be altered than what is stored.
        whole: Makes all of it, where `values` may give None.

    Returns:
        The values; the very same where no row has another.
    """

    def make() -> tuple[Typed, Typed]:
        return typed, whole() if whole is not None else typed.put(
            values(np.arange(len(typed.raw))) or {}
        )

    def again(
        before: tuple[Typed, Typed], rows: NDArray[np.intp], _: Premises
    ) -> tuple[Typed, Typed]:
        source, had = before
        fresh = values(rows)
        if fresh is None or had.raw is not source.raw:
            return make()
        if had is source and not fresh:
            return typed, typed
        column = had.put(
            {**dict(zip(rows.tolist(), typed.stored.rows(rows), strict=True)), **fresh}
        )
        return typed, replace(typed, stored=column.stored, _folded=[column.folded()])

    made: tuple[Typed, Typed] = memo.mend(name, (typed, *of), make, again)
    return made[1] if made[0] is typed or made[1] is not made[0] else typed
