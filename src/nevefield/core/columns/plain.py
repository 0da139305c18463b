"""Which texts of a column are values as they stand: told for all of them at once, so that only the
others are read one by one.

A property test holds this to reading each (`test_many_values_are_read_as_each_is`).
"""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from math import ceil, floor
from typing import TYPE_CHECKING

import numpy as np
import phonenumbers
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.columns.damage import CUT_AT, ERRORS, ODD_LETTERS, WRONG_LETTERS
from nevefield.core.columns.identifiers import plain_identifiers
from nevefield.core.texts import SPACES, unplain

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Field

__all__ = ["ISO", "MAIL", "WHOLE", "is_phone", "plain_values", "rank"]

EACH_BELOW = 64  # of fewer texts each is read
MAIL = r"^[A-Za-z0-9_+-]+(?:\.[A-Za-z0-9_+-]+)*@(?:[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?\.)+[A-Za-z]{2,24}$"  # noqa: E501
ISO = r"^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
WHOLE = r"^(?:0|-?[1-9][0-9]{0,14})$"  # as a number is stored
_BEYOND = 10**16  # more than any such number
_DAYS_OF_MONTH = np.array([0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31, 0])

LEAST_DIGITS, MOST_DIGITS = 6, 15  # of a phone number


def plain_values(
    field: Field, values: Arrow, missing: frozenset[str], turned: frozenset[str]
) -> NDArray[np.bool_]:
    """Tell which texts are surely values as they stand, by kernels over all of them.

    Args:
        field: The field.
        values: An Arrow array of texts, distinct.
        missing: Texts that stand for nothing there.
        turned: Days that a spreadsheet may have turned round.
    """
    if (
        len(values) < EACH_BELOW
        or field.several
        or field.code_list
        or field.pattern
        or field.enum
        or field.min_length
        or field.max_length
    ):
        return np.zeros(len(values), bool)
    if field.identifier is not None:
        return plain_identifiers(field.identifier, values)
    if field.is_mail:
        mask = pc.match_substring_regex(values, MAIL)
    elif field.kind == "phone":
        return _plain_phones(field, values)
    elif field.type == "string":
        mask = pa.scalar(True)
    elif field.type == "date":
        mask = _plain_days(field, values, turned)
    elif field.type in ("integer", "number"):
        mask = _plain_numbers(field, values)
    else:
        return np.zeros(len(values), bool)
    # What may be damaged is looked at one by one: letters beyond ASCII, and errors of a
    # spreadsheet.
    nothing = pc.is_in(values, value_set=pa.array(sorted({*missing, *ERRORS}), pa.string()))
    mask = pc.and_not(mask, pc.or_(pc.equal(pc.utf8_length(values), CUT_AT), nothing))
    plain: NDArray[np.bool_] = mask.to_numpy(zero_copy_only=False).copy()
    plain &= ~pc.starts_with(values, "'").to_numpy(zero_copy_only=False)  # see `bare_cell`
    odd = unplain(values)  # what is plain has none of the letters and spaces that are looked for
    if odd.any():
        few = values.filter(pa.array(odd))
        damaged = f"{WRONG_LETTERS}|{ODD_LETTERS}"
        if field.type == "string":
            damaged += f"|^[{SPACES}]|[{SPACES}]$|[{SPACES}]{{2}}"
        plain[odd] &= ~pc.match_substring_regex(few, damaged).to_numpy(zero_copy_only=False)
    return plain


def _plain_days(field: Field, values: Arrow, turned: frozenset[str]) -> Arrow:
    """Tell the days that are written as they are stored, within the field's limits."""
    shaped = pc.match_substring_regex(values, ISO)
    if turned:
        shaped = pc.and_not(
            shaped, pc.is_in(values, value_set=pa.array(sorted(turned), pa.string()))
        )
    safe = pc.if_else(shaped, values, "2000-01-01")
    year, month, day = (
        pc.utf8_slice_codeunits(safe, first, last).cast(pa.int32()).to_numpy()
        for first, last in ((0, 4), (5, 7), (8, 10))
    )
    is_leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
    last_day = _DAYS_OF_MONTH[np.minimum(month, 13)] + ((month == 2) & is_leap)
    mask = pc.and_(shaped, pa.array((year > 0) & (day > 0) & (day <= last_day)))
    if field.minimum:
        mask = pc.and_(mask, pc.greater_equal(values, field.minimum))
    if field.maximum:
        mask = pc.and_(mask, pc.less_equal(values, field.maximum))
    return mask


def _plain_numbers(field: Field, values: Arrow) -> Arrow:
    """Tell the whole numbers that are written as they are stored, within the field's limits."""
    mask = pc.match_substring_regex(values, WHOLE)
    sizes = pc.if_else(mask, values, "0").cast(pa.int64())
    if field.minimum:
        mask = pc.and_(
            mask, pc.greater_equal(sizes, ceil(max(rank(field, field.minimum), -_BEYOND)))
        )
    if field.maximum:
        mask = pc.and_(mask, pc.less_equal(sizes, floor(min(rank(field, field.maximum), _BEYOND))))
    return mask


def _plain_phones(field: Field, values: Arrow) -> NDArray[np.bool_]:
    """Ask the library once for each opening and length: whether a number is possible rests on no
    other digit.
    """
    shaped = pc.match_substring_regex(values, r"^\+[0-9](?:[0-9]| [0-9])+$")
    digits = pc.replace_substring_regex(values, "[^0-9]", "")
    opening = pc.utf8_slice_codeunits(digits, 0, 6)
    length = pc.utf8_length(digits).cast(pa.string())
    classes = pc.binary_join_element_wise(opening, length, "/").dictionary_encode()
    firsts = np.unique(classes.indices.to_numpy(), return_index=True)[1]
    samples = digits.take(pa.array(firsts)).to_pylist()
    fine = np.array([is_phone("+" + sample, field.region) for sample in samples], bool)
    return fine[classes.indices.to_numpy()] & shaped.to_numpy(zero_copy_only=False)  # type: ignore[no-any-return]


def is_phone(text: str, region: str) -> bool:
    """Tell whether a phone number is possible, in its own country or a region's; where neither is
    known, whether it has as many digits as one (ITU-T E.164, 6.2.1).
    """
    if not region and not text.startswith("+"):
        return LEAST_DIGITS <= sum(map(str.isdigit, text)) <= MOST_DIGITS
    try:
        return phonenumbers.is_possible_number(phonenumbers.parse(text, region or None))
    except phonenumbers.NumberParseException:
        return False


def rank(field: Field, value: str) -> Arrow:
    """Return what a value is compared by with others of its field: numbers by size, days and
    texts as they stand.
    """
    if field.type in ("integer", "number", "year"):
        try:
            return Decimal(value)
        except InvalidOperation:
            return Decimal(0)
    return value
