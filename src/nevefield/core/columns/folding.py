"""Bring values that mean the same to the same text: for keys, references and comparing."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.columns.identifiers import mend_identifier, plain_identifiers
from nevefield.core.columns.numbers import read_number
from nevefield.core.texts import SEVERAL, fold_all

if TYPE_CHECKING:
    from nevefield.core.definition import Field

__all__ = ["fold_values"]


def fold_values(field: Field, values: Arrow) -> Arrow:
    """Fold the distinct values of a field.

    A field that refers to another is folded as that one is, whatever it declares of itself:
    identifiers and codes without regard to case, mail addresses folded, what the other's scheme can
    mend with certainty mended.

    Args:
        field: The field.
        values: An Arrow string array of stored values.

    Returns:
        An Arrow string array in the same order, perhaps with texts that occur more than once now;
        the array itself where nothing differs.
    """
    if not field.several:
        return _fold_as(field.form or field, field, values)
    parts = [text.split(SEVERAL) for text in values.to_pylist()]
    flat = pa.array([part for some in parts for part in some], pa.string())
    folded = iter(_fold_as(field.form or field, field, flat).to_pylist())
    return pa.array(
        [SEVERAL.join(sorted(next(folded) for _ in some)) for some in parts], pa.string()
    )


def _fold_as(form: Field, field: Field, values: Arrow) -> Arrow:
    shaped = values if form is field else _shape(form, values)
    return fold_all(shaped, case=form.folds_case)


def _shape(form: Field, values: Arrow) -> Arrow:
    """Write values as a field that they refer to has them, where that is certain; the others
    stay as they are.
    """
    if form.identifier is not None:
        odd = ~plain_identifiers(form.identifier, values)
        mended = [
            mend_identifier(form.identifier, text)
            for text in values.filter(pa.array(odd)).to_pylist()
        ]
        texts = [one.value for one in mended]
    elif form.type in ("integer", "number"):
        odd = np.ones(len(values), bool)
        texts = [_number(text) for text in values.to_pylist()]
    else:
        return values
    return (
        pc.replace_with_mask(values, pa.array(odd), pa.array(texts, pa.string()))
        if odd.any()
        else values
    )


def _number(text: str) -> str:
    number = read_number(text, "")
    return number.value if number is not None and number.value is not None else text
