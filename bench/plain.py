"""The same work as a competent pandas script: read, trim, check, compare. `python bench/plain.py
FILE ROSTER CODES [DEFINITION]`.

A workbook is read with pandas' fastest engine. Of a wide roster the names of the more fields say
what they hold.
"""

from __future__ import annotations

import json
import re
import sys
import time

import numpy as np
import pandas as pd

DAYS = ["born", "enrolled_from", "enrolled_to", "medical_until"]
CODED = {
    "home_port": "home_port",
    "department": "department",
    "programme": "programme",
    "intake_term": "intake_term",
    "campus": "campus",
    "watch": "watch",
    "bursaries": "bursary",
    "dietary": "diet",
}
REQUIRED = ["cadet_number", "family_name", "given_names", "born", "programme", "enrolled_from"]
MAIL = r"[^@\s]+@[^@\s]+\.[^@\s]+"
PHONE = re.compile(r"\+44 ?\d{4} ?\d{6}")


def read(path: str) -> pd.DataFrame:
    """Read a file as text, trimmed; a row may be short, or have an empty cell too many."""
    if path.endswith(".xlsx"):
        frame = pd.read_excel(path, dtype=str, keep_default_na=False, engine="calamine")
    else:
        with open(path) as lines:
            header, first = next(lines).rstrip().split(","), [next(lines) for _ in range(10)]
        more = ["more"] * (max(line.count(",") for line in first) + 1 - len(header))
        frame = pd.read_csv(
            path, dtype=str, keep_default_na=False, names=[*header, *more], header=None, skiprows=1
        )
        frame = frame[header].fillna("")
    return frame.apply(lambda column: column.str.strip())


def check_character(numbers: pd.Series, prefix: str, length: int) -> pd.Series:
    """ISO 7064 MOD 11-2 over a column, as arithmetic."""
    fits = numbers.str.fullmatch(rf"{prefix}\d{{{length - len(prefix) - 1}}}[\dX]")
    good = numbers[fits]
    digits = (
        np.array(good.str.slice(len(prefix)).tolist(), dtype=f"S{length - len(prefix)}")
        .view("S1")
        .reshape(len(good), -1)
    )
    values = np.where(digits == b"X", 10, digits.view(np.uint8) - 48).astype(np.int64)
    powers = np.array([pow(2, values.shape[1] - 1 - place, 11) for place in range(values.shape[1])])
    right = pd.Series(False, index=numbers.index)
    right[fits] = (values * powers).sum(axis=1) % 11 == 1
    return right


DAMM = [
    [0, 3, 1, 7, 5, 9, 8, 6, 4, 2],
    [7, 0, 9, 2, 1, 5, 4, 8, 6, 3],
    [4, 2, 0, 6, 8, 7, 1, 3, 5, 9],
    [1, 7, 5, 0, 9, 8, 3, 4, 2, 6],
    [6, 1, 2, 3, 0, 4, 5, 9, 7, 8],
    [3, 6, 7, 4, 2, 0, 9, 5, 8, 1],
    [5, 8, 6, 9, 7, 2, 0, 1, 3, 4],
    [8, 9, 4, 5, 3, 6, 2, 0, 1, 7],
    [9, 4, 3, 8, 6, 1, 7, 2, 0, 5],
    [2, 5, 8, 1, 4, 3, 6, 7, 9, 0],
]


def damm(numbers: pd.Series) -> pd.Series:
    """Damm's check character over a column."""
    fits = numbers.str.fullmatch(r"M\d{7}")
    good = numbers[fits]
    digits = (
        np.array(good.str.slice(1).tolist(), dtype="S7")
        .view("S1")
        .reshape(len(good), -1)
        .view(np.uint8)
        - 48
    ).astype(np.int64)
    state, table = np.zeros(len(good), np.int64), np.array(DAMM)
    for place in range(digits.shape[1]):
        state = table[state, digits[:, place]]
    right = pd.Series(False, index=numbers.index)
    right[fits] = state == 0
    return right


class Notes:
    """What is wrong, by check, and in which rows."""

    def __init__(self, file: pd.DataFrame) -> None:
        self.found: dict[str, int] = {}
        self.bad = pd.Series(False, index=file.index)

    def add(self, name: str, wrong: pd.Series) -> None:
        """Note the rows in which a check does not hold."""
        if wrong.any():
            self.found[name] = int(wrong.sum())
            self.bad = self.bad | wrong


def check_cells(file: pd.DataFrame, codes: pd.DataFrame, notes: Notes) -> dict[str, pd.Series]:
    """Check every cell by itself, and return the days that were read, by column."""
    days = {}
    for name in REQUIRED:
        notes.add(f"required {name}", file[name] == "")
    filled = file.ne("")
    notes.add(
        "identifier cadet_number",
        filled["cadet_number"] & ~check_character(file["cadet_number"], "TQ", 9),
    )
    notes.add("identifier mariner_number", filled["mariner_number"] & ~damm(file["mariner_number"]))
    notes.add("format mail", filled["mail"] & ~file["mail"].str.fullmatch(MAIL))
    for name in ("phone", "guardian_phone"):
        notes.add(f"format {name}", filled[name] & ~file[name].str.fullmatch(PHONE))
    for name in DAYS:
        days[name] = days_of(file, name)
        notes.add(f"type {name}", filled[name] & days[name].isna())
    for name, listed in CODED.items():
        allowed = codes.loc[(codes["list"] == listed) & (codes["last_day"] == ""), "code"]
        notes.add(f"code {name}", filled[name] & ~file[name].isin(allowed))
    diets = codes.loc[(codes["list"] == "diet") & (codes["last_day"] == ""), "code"]
    for name in file.columns:
        kind, _, number = name.partition("_")
        if not number.isdecimal():
            continue
        if kind == "count":
            notes.add(
                f"type {name}", filled[name] & pd.to_numeric(file[name], errors="coerce").isna()
            )
        elif kind == "day":
            notes.add(
                f"type {name}",
                filled[name] & days_of(file, name).isna(),
            )
        elif kind == "diet":
            notes.add(f"code {name}", filled[name] & ~file[name].isin(diets))
    return days


def days_of(file: pd.DataFrame, name: str) -> pd.Series:
    """Read a column of days; nothing where there is none."""
    return pd.to_datetime(file[name], format="%Y-%m-%d", errors="coerce")


def check_rows(
    file: pd.DataFrame,
    roster: pd.DataFrame,
    codes: pd.DataFrame,
    days: dict[str, pd.Series],
    notes: Notes,
) -> None:
    """Check what hangs together within rows, between them, and with the roster."""
    filled = file.ne("")
    parents = codes.loc[codes["list"] == "programme"].set_index("code")["parent"]
    notes.add(
        "parent programme",
        filled["programme"]
        & filled["department"]
        & (file["programme"].map(parents) != file["department"]),
    )
    notes.add("pattern berth", filled["berth"] & ~file["berth"].str.fullmatch(r"[A-D][0-9]{3}"))
    for name in ("year", "deposit"):
        notes.add(f"type {name}", filled[name] & pd.to_numeric(file[name], errors="coerce").isna())
    notes.add("order enrolled_to", days["enrolled_from"] > days["enrolled_to"])
    adult = days["born"] > pd.Timestamp("2008-09-01")
    notes.add("required-when guardian", adult & ~filled["guardian"])
    for name in ("cadet_number", "mariner_number", "mail"):
        notes.add(f"unique {name}", filled[name] & file[name].str.lower().duplicated(keep=False))
    holders = roster.loc[roster["mail"] != "", ["mail", "cadet_number"]].set_index("mail")[
        "cadet_number"
    ]
    holder = file["mail"].map(holders)
    notes.add("unique-in-roster mail", holder.notna() & (holder != file["cadet_number"]))


def compare(
    file: pd.DataFrame, roster: pd.DataFrame, bad: pd.Series
) -> tuple[int, int, dict[str, int]]:
    """Compare with the roster: how many are new, how many change, and how often each field does."""
    both = file.merge(roster, on="cadet_number", how="left", suffixes=("", "_old"), indicator=True)
    known = (both["_merge"] == "both") & ~bad
    changes: dict[str, int] = {}
    changed = pd.Series(False, index=both.index)
    for name in file.columns:
        if name == "cadet_number":
            continue
        new, old = both[name], both[f"{name}_old"]
        if name == "mail":
            new, old = new.str.lower(), old.str.lower()
        elif name in ("year", "deposit"):
            new, old = pd.to_numeric(new), pd.to_numeric(old)
        differs = known & (new != old) & ~(new.isna() & old.isna())
        changed |= differs
        if differs.any():
            changes[name] = int(differs.sum())
    return int(((both["_merge"] != "both") & ~bad).sum()), int(changed.sum()), changes


def main() -> None:
    """Do the work and print what was found and how long it took."""
    path, roster_path, codes_path = sys.argv[1:4]  # what comes behind them is for the other script
    begin = time.perf_counter()
    file, roster = read(path), read(roster_path)
    codes = pd.read_csv(codes_path, dtype=str, keep_default_na=False)
    notes = Notes(file)
    days = check_cells(file, codes, notes)
    check_rows(file, roster, codes, days, notes)
    new, changed, changes = compare(file, roster, notes.bad)
    absent = ~roster["cadet_number"].isin(file["cadet_number"])
    answer = {
        "seconds": time.perf_counter() - begin,
        "read": len(file),
        "stopped": int(notes.bad.sum()),
        "new": new,
        "changed": changed,
        "absent": int(absent.sum()),
        "changes": changes,
        "findings": notes.found,
    }
    print(json.dumps(answer))


if __name__ == "__main__":
    main()
