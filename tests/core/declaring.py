"""Declarations of any check of the catalog, over fields of any roster: what a check takes is
read from its own entry.
"""

from __future__ import annotations

from hypothesis import strategies as st

from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.options import OptionKind
from tests.core.checking.test_catalog import FIELDS


def kind_of(field: dict) -> tuple:
    """What a field holds, as far as checks mind: type, format, codes, several."""
    own = [name for name in ("codeList", "several") if name in field.get("nevefield", {})]
    return field.get("type", "string"), field.get("format", ""), *own


@st.composite
def declarations(draw, fields, values, conditions, lists, others, check=None):
    """One declaration: fields like those of the check's example, and of its options all that it
    needs and some that it takes.

    Args:
        fields: Of the roster, as its definition has them.
        values: What each holds, by name.
        conditions: That can stand in its options.
        lists: Names of code lists.
        others: Other rosters, with a field each.
        check: Which; any when left out.
    """
    check = check or draw(st.sampled_from(list(DECLARED.values())))
    texts = st.lists(
        st.sampled_from(sorted({text for some in values.values() for text in some if text})),
        min_size=1,
        max_size=4,
    )
    names = st.sampled_from([field["name"] for field in fields])
    kinds = {field["name"]: kind_of(field) for field in FIELDS}
    option_values = {
        OptionKind.CONDITION: lambda option: st.sampled_from(conditions),
        OptionKind.FIELDS: lambda option: st.lists(names, min_size=1, max_size=2, unique=True),
        OptionKind.VALUES: lambda option: texts,
        OptionKind.NUMBER: lambda option: st.one_of(
            st.just(option.example), st.sampled_from([0, 0.2, 1, 2, 16, 60])
        ),
        OptionKind.BANDS: lambda option: st.just(option.example),
        OptionKind.CHOICE: lambda option: st.sampled_from(option.choices),
        OptionKind.DAY: lambda option: st.sampled_from([option.example, "today"]),
        OptionKind.ROSTERS: lambda option: st.sampled_from(others),
        OptionKind.CODE_LIST: lambda option: st.sampled_from(lists),
        OptionKind.FLAG: lambda option: st.booleans(),
    }
    declared = {
        "check": check.name,
        "fields": [],
        "weight": draw(st.sampled_from([check.weight, "stop", "ask", "note"])),
    }
    for name in check.example["fields"]:
        alike = [field["name"] for field in fields if kind_of(field) == kinds[name]] or [
            field["name"] for field in fields
        ]
        free = [found for found in alike if found not in declared["fields"]]
        declared["fields"].append(draw(st.sampled_from(free) if free else names))
    for option in check.options:
        if option.is_needed or draw(st.booleans()):
            declared[option.name] = draw(option_values[option.kind](option))
    return declared
