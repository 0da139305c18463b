"""What the Registry keeps: people, returns, answers; for each account apart, and for practice
and live apart.
"""

from __future__ import annotations

import json
import random
import threading
import time
from collections import Counter, defaultdict
from datetime import date
from pathlib import Path
from typing import Any

from stand_ins.registry.judging import Judged, Record, candidates_of, judge, overlapping, shown
from stand_ins.registry.layout import FIELDS, check_of

__all__ = ["FAULTS", "Registry"]

NAMES = [one["name"] for one in FIELDS]
ENROLMENT = ("COLLEGE", "KIND", "ENR_FROM", "ENR_TO", "PROGRAMME", "YEAR")
PERSON = (
    "MARINER",
    "FAMILY",
    "GIVEN",
    "BORN",
    "HOME_PORT",
    "MEDICAL_TO",
    "GUARDIAN",
    "MAIL",
    "PHONE",
)
# What it can be told to do wrong: seconds it takes, how many of the next requests fail in a way,
# and how answers come.
FAULTS: dict[str, Any] = {
    "slow": 0.0,
    "refuse": 0,
    "fail500": 0,
    "fail503": 0,
    "drop": 0,
    "twice": False,
    "disorder": False,
    "fickle": False,
}


class Registry:
    """One side of the Registry, practice or live.

    Args:
        people: The records that it begins with.
        today: The day by which it judges.
        place: A file in which it keeps what it has; None to keep nothing beyond its life.
    """

    def __init__(self, people: list[Record], today: date, place: Path | None = None) -> None:
        self.lock = threading.RLock()
        self.today, self.place = today, place
        self.people = {one["MARINER"]: one for one in people}
        self.returns: dict[str, dict[str, Any]] = {}
        self.by_key: dict[tuple[str, str], str] = {}
        self.numbered: dict[tuple[str, str], str] = {}  # account and reference -> number given
        self.faults = dict(FAULTS)
        if place is not None and place.exists():
            kept = json.loads(place.read_text())
            self.people, self.returns = kept["people"], kept["returns"]
            self.by_key = {(one, key): receipt for one, key, receipt in kept["keys"]}
            self.numbered = {(one, ref): number for one, ref, number in kept["numbered"]}
            for one in self.returns.values():
                if one["state"] != "answered":
                    self._begin(one)

    def take(self, account: str, college: str, key: str, body: dict[str, Any]) -> dict[str, Any]:
        """Take a return; the same key of the same account again gives the same receipt and is no
        second return.
        """
        with self.lock:
            if (account, key) in self.by_key:
                return self.returns[self.by_key[account, key]]
            receipt = f"R-{len(self.returns) + 1:06d}"
            records = [
                {name: str(one.get(name, "") or "") for name in NAMES}
                for one in body.get("records", [])
            ]
            made = {
                "receipt": receipt,
                "account": account,
                "college": college,
                "state": "received",
                "records": records,
                "changes": body.get("changes", []),
                "day": str(body.get("day") or self.today.isoformat()),
                "done": 0,
                "total": len(records),
                "results": [],
                "decided": [],
            }
            self.returns[receipt] = made
            self.by_key[account, key] = receipt
            self.keep()
        self._begin(made)
        return made

    def _begin(self, made: dict[str, Any]) -> None:
        threading.Thread(target=self._work, args=(made,), daemon=True).start()

    def _work(self, made: dict[str, Any]) -> None:
        made["state"] = "working"
        time.sleep(float(self.faults["slow"]))
        with self.lock:
            decided = [self._decide(one) for one in made["changes"]]
            results = self._judge_all(made)
            if self.faults["fickle"]:
                results += self._withdraw(made)
            if self.faults["twice"]:
                results = results + results
            if self.faults["disorder"]:
                random.Random(len(results)).shuffle(results)  # noqa: S311
            made["results"], made["decided"], made["done"], made["state"] = (
                results,
                decided,
                made["total"],
                "answered",
            )
            self.keep()

    def _judge_all(self, made: dict[str, Any]) -> list[Record]:
        records = made["records"]
        refs, numbers = (
            Counter(one[name] for one in records if one[name]) for name in ("REF", "MARINER")
        )
        twice = {ref for ref, count in refs.items() if count > 1}
        again = {number for number, count in numbers.items() if count > 1}
        births: dict[str, list[Record]] = defaultdict(list)
        for one in self.people.values():
            births["".join(sorted(one["BORN"]))].append(one)
            births[one["FAMILY"].casefold()].append(one)
        results = []
        for place, sent in enumerate(records):
            results.append(self._judge(sent, made, births, twice, again).to_json())
            if place % 500 == 0:
                made["done"] = place
        return results

    def _judge(
        self,
        sent: Record,
        made: dict[str, Any],
        births: dict[str, list[Record]],
        twice: set[str],
        again: set[str],
    ) -> Judged:
        asked = sent["NUMBER"]
        number = asked if asked in self.people else sent["MARINER"]
        known = self.numbered.get((made["account"], sent["REF"]), "")
        if not number and asked == "NEW":
            number = known
        held = self.people.get(number) if number and asked != "QUESTION" else None
        broken = judge(
            sent | {"MARINER": sent["MARINER"] if asked != "QUESTION" else ""},
            held,
            made["college"],
            date.fromisoformat(made["day"]),
            twice=twice,
            again=again,
        )
        if "Z0" in broken:
            return Judged(
                sent["REF"], "rejected", number, broken, shown(held, sent) if held else None
            )
        if not number or asked == "QUESTION":
            if asked != "NEW":
                near = {
                    one["MARINER"]: one
                    for key in ("".join(sorted(sent["BORN"])), sent["FAMILY"].casefold())
                    for one in births[key]
                }
                found = candidates_of(sent, list(near.values()), sent["MARINER"])
                return Judged(sent["REF"], "to number", "", broken, None, found)
            number = self._number()
        # what was held otherwise is what a warning is about
        before = shown(held, sent) if held else None
        self._keep_person(sent, number)
        self.numbered[made["account"], sent["REF"]] = number
        return Judged(
            sent["REF"],
            "warned" if broken else "accepted",
            number,
            broken,
            before or shown(self.people[number], sent),
        )

    def _number(self) -> str:
        """Give the next number that nobody has."""
        body = 900_000 + len(self.people)
        while True:
            digits = f"{body:06d}"
            number = f"M{digits}{next(one for one in '0123456789' if check_of(digits + one) == 0)}"
            if number not in self.people:
                return number
            body += 1

    def _keep_person(self, sent: Record, number: str) -> None:
        held = self.people.get(number, {"ENROLMENTS": []})
        rest = [one for one in held["ENROLMENTS"] if one["COLLEGE"] != sent["COLLEGE"]]
        mine = {name: sent[name] for name in ENROLMENT}
        self.people[number] = {name: sent[name] for name in PERSON} | {
            "MARINER": number,
            "ENROLMENTS": [*rest, mine],
        }

    def _decide(self, change: Record) -> Record:
        """Agree to a change that is asked for with a reason, and do it; refuse one without."""
        held = self.people.get(change.get("mariner", ""))
        if held is None:
            return {
                "id": change["id"],
                "state": "refused",
                "text": "There is no mariner of that number.",
            }
        if len(str(change.get("reason", "")).strip()) < 8:
            return {"id": change["id"], "state": "refused", "text": "The reason says too little."}
        asked = {one["field"]: str(one["asked"]) for one in change.get("fields", [])}
        if change.get("rule") == "E4":
            sent = (
                {"KIND": "P", "COLLEGE": "", "ENR_TO": "", "ENR_FROM": ""}
                | asked
                | change.get("sent", {})
            )
            other = overlapping(held, sent)
            if other is not None:
                end = date.fromisoformat(sent["ENR_FROM"]).toordinal() - 1
                for one in held["ENROLMENTS"]:
                    if one["COLLEGE"] == other["COLLEGE"] and one["ENR_FROM"] == other["ENR_FROM"]:
                        one["ENR_TO"] = date.fromordinal(end).isoformat()
        else:
            held.update(
                {
                    name: value
                    for name, value in asked.items()
                    if name in PERSON and name != "MARINER"
                }
            )
        return {"id": change["id"], "state": "agreed", "text": "Put right."}

    def _withdraw(self, made: dict[str, Any]) -> list[Record]:
        """Change its mind about the first record that an earlier return of the account had
        accepted.
        """
        now = {one["REF"] for one in made["records"]}
        for earlier in self.returns.values():
            for one in (
                earlier["results"]
                if earlier["account"] == made["account"] and earlier is not made
                else ()
            ):
                if one["outcome"] == "accepted" and one["ref"] not in now:
                    return [{**one, "outcome": "rejected", "rules": ["M2", "Z0"]}]
        return []

    def keep(self) -> None:
        """Write everything down, all or nothing."""
        if self.place is None:
            return
        keys = [[one, key, receipt] for (one, key), receipt in self.by_key.items()]
        numbered = [[one, ref, number] for (one, ref), number in self.numbered.items()]
        kept = {"people": self.people, "returns": self.returns, "keys": keys, "numbered": numbered}
        fresh = self.place.with_suffix(".new")
        fresh.write_text(json.dumps(kept, ensure_ascii=False))
        fresh.replace(self.place)
