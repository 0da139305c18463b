"""Write large files of cadets for `bench/`: `python demo/make_large.py ROWS OUT`. The same seed
gives the same bytes.

Writes `roster-N.csv`, the roster as it was, and `big-N.csv`, everybody as of today: of the rows,
about 5 in 100 are new, 4 in 100 have another watch or phone, 1 in 100 has a planted mistake, and 3
in 100 of the roster are absent.
"""

from __future__ import annotations

import csv
import json
import random
import sys
from pathlib import Path

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE))

from world import BURSARIES, DIETS, FAMILY, GIVEN, HOME, PROGRAMMES, WATCHES, phone  # noqa: E402

from nevefield.core.columns.schemes import DAMM  # noqa: E402

__all__ = ["main", "make_large"]

FIELDS = [
    "cadet_number", "mariner_number", "family_name", "given_names", "born", "mail", "phone", "home_port", "department",  # noqa: E501
    "programme", "intake_term", "year", "campus", "watch", "berth", "enrolled_from", "enrolled_to", "resident", "bursaries",  # noqa: E501
    "dietary", "medical_until", "guardian", "guardian_phone", "deposit",
]  # fmt: skip
_DAMM = DAMM.tolist()
MISTAKES = ["number", "mail", "port", "order", "name", "born"]


def _number(serial: int) -> str:
    """Write a cadet number: six digits and their ISO 7064 MOD 11-2 character."""
    sum_so_far = 0
    for digit in f"{serial:06d}":
        sum_so_far = (sum_so_far + int(digit)) * 2 % 11
    return f"TQ{serial:06d}{'0123456789X'[(12 - sum_so_far) % 11]}"


def _mariner(serial: int) -> str:
    """Write a mariner number: six digits and their Damm character."""
    state = 0
    for digit in f"{serial:06d}":
        state = _DAMM[state][int(digit)]
    return f"M{serial:06d}{state}"


def _person(chance: random.Random, serial: int, body: str) -> dict[str, str]:
    family, given = chance.choice(FAMILY), chance.choice(GIVEN)
    programme = chance.choice(list(PROGRAMMES))
    autumn = chance.choice([2023, 2024, 2025])
    resident = chance.random() < 0.6
    return {
        "cadet_number": _number(serial),
        "mariner_number": _mariner(serial) if serial % 3 else "",
        "family_name": family,
        "given_names": given,
        "born": f"{autumn - 18 - serial % 5}-{1 + serial % 12:02d}-{1 + serial % 28:02d}",
        "mail": f"{given}.{body}@tarnquay.example".casefold().encode("ascii", "ignore").decode(),
        "phone": phone(chance),
        "home_port": chance.choice(HOME),
        "department": PROGRAMMES[programme],
        "programme": programme,
        "intake_term": f"{autumn}A",
        "year": str(2026 - autumn + 1),
        "campus": chance.choice(["NQ", "CH", "TSM"]),
        "watch": chance.choice(WATCHES),
        "berth": f"{chance.choice('ABCD')}{chance.randrange(100, 500)}" if resident else "",
        "enrolled_from": f"{autumn}-09-07",
        "enrolled_to": f"{autumn + 3}-06-30",
        "resident": "true" if resident else "false",
        "bursaries": chance.choice(BURSARIES) if serial % 5 == 0 else "",
        "dietary": chance.choice(DIETS) if serial % 7 == 0 else "",
        "medical_until": f"2027-{1 + serial % 12:02d}-{1 + serial % 28:02d}",
        "guardian": family if serial % 4 == 0 else "",
        "guardian_phone": phone(chance) if serial % 4 == 0 else "",
        "deposit": chance.choice(["150", "75.5", "0"]),
    }


def _spoil(person: dict[str, str], mistake: str) -> None:
    if mistake == "number":
        last = person["cadet_number"][-1]
        person["cadet_number"] = person["cadet_number"][:-1] + ("1" if last != "1" else "2")
    elif mistake == "mail":
        person["mail"] = person["mail"].replace("@", " at ")
    elif mistake == "port":
        person["home_port"] = "Skarvolm"
    elif mistake == "order":
        person["enrolled_to"] = "2020-06-30"
    elif mistake == "name":
        person["family_name"] = ""
    else:
        person["born"] = "2008-02-31"


def make_large(rows: int, out: Path, seed: int = 20260901) -> tuple[Path, Path]:
    """Write the roster and the file of everybody; return their paths."""
    out.mkdir(parents=True, exist_ok=True)
    chance = random.Random(seed)
    roster, file = out / f"roster-{rows}.csv", out / f"big-{rows}.csv"
    counts = dict.fromkeys(("new", "changed", "absent", *MISTAKES), 0)
    with roster.open("w", newline="") as one, file.open("w", newline="") as two:
        before, after = (
            csv.DictWriter(stream, FIELDS, lineterminator="\n") for stream in (one, two)
        )
        before.writeheader()
        after.writeheader()
        for serial in range(rows):
            person = _person(chance, serial, str(serial))
            fate = chance.random()
            if fate < 0.05:
                counts["new"] += 1
            else:
                before.writerow(person)
            if 0.05 <= fate < 0.08:
                counts["absent"] += 1
                continue
            if 0.08 <= fate < 0.12:
                person["watch"] = "SKUA" if person["watch"] != "SKUA" else "TERN"
                counts["changed"] += 1
            elif 0.12 <= fate < 0.13:
                mistake = MISTAKES[serial % len(MISTAKES)]
                _spoil(person, mistake)
                counts[mistake] += 1
            after.writerow(person)
    (out / f"big-{rows}.truth.json").write_text(json.dumps(counts, indent=1))
    return roster, file


def main() -> None:
    """Make files of as many rows as the first argument says, in the directory that the second
    names.
    """
    make_large(int(sys.argv[1]), Path(sys.argv[2]) if len(sys.argv) > 2 else HERE / "made")


if __name__ == "__main__":
    main()
