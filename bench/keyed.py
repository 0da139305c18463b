"""A roster of members with several keys, a file of which half the rows are nobody's yet, and the
same work as a pandas script.

`python bench/keyed.py FILE ROSTER CODES [DEFINITION]` is that script; `make_keyed` makes the files.
"""

from __future__ import annotations

import json
import random
import sys
import time
from pathlib import Path

FIELDS = [
    "member",
    "card",
    "mail",
    "family_name",
    "given_names",
    "born",
    "joined",
    "diet",
    "points",
    "town",
]
HEADS, TAILS = (
    ("Ar", "Bel", "Cor", "Dun", "Esk", "Far", "Gor", "Hal"),
    (
        "by",
        "dale",
        "mere",
        "ton",
    ),
)
FAMILIES = [head + tail for head in HEADS for tail in TAILS]
GIVEN = [
    "Ada",
    "Bo",
    "Cleo",
    "Dag",
    "Esme",
    "Finn",
    "Greta",
    "Hugo",
    "Ines",
    "Jon",
    "Kit",
    "Lena",
    "Mira",
    "Noor",
    "Otto",
    "Pia",
]
TOWNS = [
    "Skarvholm",
    "Dunsea",
    "Okell",
    "Bexcombe",
    "Tarnquay",
    "Northwick",
    "Eastmere",
    "Calderby",
]


def make_keyed(rows: int, made: Path) -> tuple[Path, Path, Path]:
    """Write file, roster and definition, unless they are there; return their paths."""
    names = (("big", "csv"), ("roster", "csv"), ("is", "json"))
    file, roster, definition = (made / f"keyed-{name}-{rows}.{end}" for name, end in names)
    if not file.exists():
        chance = random.Random(rows)
        people = [_person(chance, number) for number in range(rows)]
        _write(roster, people)
        both = (
            (_changed(chance, people[place], place), _person(chance, rows + place))
            for place in range(1, rows, 2)
        )
        _write(file, [one for pair in both for one in pair])
    document = {
        "name": "members",
        "title": "Members",
        "primaryKey": "member",
        "fields": [
            {"name": "member", "constraints": {"required": True, "unique": True}},
            {"name": "card"},
            {"name": "mail", "format": "email"},
            {"name": "family_name", "constraints": {"required": True}},
            {"name": "given_names"},
            {"name": "born", "type": "date"},
            {"name": "joined", "type": "date", "constraints": {"required": True}},
            {"name": "diet", "nevefield": {"codeList": "diet"}},
            {"name": "points", "type": "integer"},
            {"name": "town"},
        ],
        "nevefield": {"keys": ["member", "card", "mail"], "likeness": {"off": True}},
    }
    definition.write_text(json.dumps(document))
    return file, roster, definition


def _person(chance: random.Random, number: int) -> dict[str, str]:
    family, given = chance.choice(FAMILIES), chance.choice(GIVEN)
    return {
        "member": f"M{number:07d}",
        "card": f"K{number * 7 % 10_000_000:08d}",
        "mail": f"{given}.{family}.{number}@members.example".lower(),
        "family_name": family,
        "given_names": given,
        "born": (
            f"{chance.randint(1940, 2008)}-{chance.randint(1, 12):02d}-{chance.randint(1, 28):02d}"
        ),
        "joined": f"20{chance.randint(10, 25)}-{chance.randint(1, 12):02d}-01",
        "diet": chance.choice(["", "", "VEG", "HAL"]),
        "points": str(chance.randint(0, 5000)),
        "town": chance.choice(TOWNS),
    }


def _changed(chance: random.Random, person: dict[str, str], place: int) -> dict[str, str]:
    """Give somebody who is there a row that one of the keys knows, with a change or a mistake."""
    one = dict(person)
    if place % 3 == 1:
        one["points"] = str(int(one["points"]) + 10)
    if place % 7 == 0:
        one["town"] = chance.choice(TOWNS)
    if place % 40 == 3:
        one["mail"] = "no mail"
    if place % 50 == 5:
        one["born"] = "2001-02-30"
    if place % 60 == 7:
        one["diet"] = "MUD"
    return one


def _write(path: Path, people: list[dict[str, str]]) -> None:
    with path.open("w") as out:
        out.write(",".join(FIELDS) + "\n")
        out.writelines(",".join(one[name] for name in FIELDS) + "\n" for one in people)


def main() -> None:
    """Do the work as a plain script and print what was found and how long it took."""
    import pandas as pd

    path, roster_path, codes_path = sys.argv[1:4]
    begin = time.perf_counter()
    file, roster = (
        pd.read_csv(one, dtype=str, keep_default_na=False).apply(lambda column: column.str.strip())
        for one in (path, roster_path)
    )
    codes = pd.read_csv(codes_path, dtype=str, keep_default_na=False)
    found: dict[str, int] = {}
    bad = pd.Series(False, index=file.index)
    filled = file.ne("")
    for name in ("member", "family_name", "joined"):
        bad |= _note(found, f"required {name}", ~filled[name])
    bad |= _note(found, "unique member", filled["member"] & file["member"].duplicated(keep=False))
    bad |= _note(
        found,
        "format mail",
        filled["mail"] & ~file["mail"].str.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+"),
    )
    for name in ("born", "joined"):
        days = pd.to_datetime(file[name], format="%Y-%m-%d", errors="coerce")
        bad |= _note(found, f"type {name}", filled[name] & days.isna())
    bad |= _note(
        found,
        "type points",
        filled["points"] & pd.to_numeric(file["points"], errors="coerce").isna(),
    )
    allowed = codes.loc[(codes["list"] == "diet") & (codes["last_day"] == ""), "code"]
    bad |= _note(found, "code diet", filled["diet"] & ~file["diet"].isin(allowed))
    record = pd.Series(float("nan"), index=file.index)
    for key in ("member", "card", "mail"):
        ours, theirs = file[key].str.lower(), roster[key].str.lower()
        places = pd.Series(roster.index, index=theirs)[lambda one: one.index != ""]
        record = record.fillna(ours.map(places[~places.index.duplicated()]))
    known = record.notna()
    changes: dict[str, int] = {}
    changed = pd.Series(False, index=file.index)
    rows = file.index[known & ~bad]
    old = roster.loc[record[rows].astype(int)].set_axis(rows)
    for name in FIELDS[1:]:
        new, had = file.loc[rows, name], old[name]
        differs = (new != had) & (new != "")
        changed[rows] |= differs
        if differs.any():
            changes[name] = int(differs.sum())
    answer = {
        "seconds": time.perf_counter() - begin,
        "read": len(file),
        "stopped": int(bad.sum()),
        "new": int((~known & ~bad).sum()),
        "changed": int(changed.sum()),
        "absent": int((~roster.index.isin(record[known].astype(int))).sum()),
        "changes": changes,
        "findings": found,
    }
    print(json.dumps(answer))


def _note(found, name, wrong):
    if wrong.any():
        found[name] = int(wrong.sum())
    return wrong


if __name__ == "__main__":
    main()
