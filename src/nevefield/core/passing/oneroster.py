"""OneRoster 1.2 as CSV: one school and one term, each group a class, each record a user with a role
and enrolments; whole, or what changed.

Source: 1EdTech, OneRoster 1.2, CSV Binding (files, columns, enumerations; `bulk` and `delta`).
"""

from __future__ import annotations

import csv
import hashlib
import io
import re
import zipfile
from collections import defaultdict
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.core.passing.standing import Act

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping
    from datetime import datetime

    from nevefield.core.passing.destination import FileWay, Put
    from nevefield.core.passing.entries import Entry
    from nevefield.core.passing.outgoing import Content

__all__ = ["TAKEN", "fault_in_oneroster", "write_oneroster"]

USER = (
    "username",
    "givenName",
    "familyName",
    "middleName",
    "identifier",
    "email",
    "sms",
    "phone",
    "grades",
    "userMasterIdentifier",
    "preferredGivenName",
    "preferredMiddleName",
    "preferredFamilyName",
    "pronouns",
)
PERSON = ("birthDate", "sex")  # of demographics.csv
TAKEN = frozenset({*USER, *PERSON, "role"})  # what a layout may fill
ROLES = frozenset(
    (
        *("administrator", "aide", "counselor", "districtAdministrator", "guardian", "parent"),
        *("principal", "proctor", "relative", "siteAdministrator", "student"),
        *("systemAdministrator", "teacher"),
    )
)
IN_CLASS = frozenset({"administrator", "proctor", "student", "teacher"})
ENUMERATED = {"role": ROLES, "sex": frozenset({"male", "female", "unspecified", "other"})}
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")
_NUMBER = re.compile(r"[+-][\d\s()./-]*")
FIRST = ("sourcedId", "status", "dateLastModified")
COLUMNS: dict[str, tuple[str, ...]] = {
    "academicSessions": ("title", "type", "startDate", "endDate", "parentSourcedId", "schoolYear"),
    "orgs": ("name", "type", "identifier", "parentSourcedId"),
    "courses": (
        *("schoolYearSourcedId", "title", "courseCode", "grades", "orgSourcedId", "subjects"),
        "subjectCodes",
    ),
    "classes": (
        *("title", "grades", "courseSourcedId", "classCode", "classType", "location"),
        *("schoolSourcedId", "termSourcedIds", "subjects", "subjectCodes", "periods"),
    ),
    "users": (
        *("enabledUser", "username", "userIds", "givenName", "familyName", "middleName"),
        *("identifier", "email", "sms", "phone", "agentSourcedIds", "grades", "password"),
        *("userMasterIdentifier", "resourceSourcedIds", "preferredGivenName"),
        *("preferredMiddleName", "preferredFamilyName", "primaryOrgSourcedId", "pronouns"),
    ),
    "roles": (
        *("userSourcedId", "roleType", "role", "beginDate", "endDate", "orgSourcedId"),
        "userProfileSourcedId",
    ),
    "enrollments": (
        *("classSourcedId", "schoolSourcedId", "userSourcedId", "role", "primary", "beginDate"),
        "endDate",
    ),
    "demographics": (
        *("birthDate", "sex", "americanIndianOrAlaskaNative", "asian", "blackOrAfricanAmerican"),
        *("nativeHawaiianOrOtherPacificIslander", "white", "demographicRaceTwoOrMoreRaces"),
        *("hispanicOrLatinoEthnicity", "countryOfBirthCode", "stateOfBirthAbbreviation"),
        *("cityOfBirth", "publicSchoolResidenceStatus"),
    ),
}
# all that the manifest says of, those that are not made too
FILES = (
    *("academicSessions", "categories", "classes", "classResources", "courses", "courseResources"),
    *("demographics", "enrollments", "lineItemLearningObjectiveIds", "lineItems"),
    *("lineItemScoreScales", "orgs", "resources", "resultLearningObjectiveIds", "results"),
    *("resultScoreScales", "roles", "scoreScales", "userProfiles", "userResources", "users"),
)
MOMENT = (1980, 1, 1, 0, 0, 0)  # in the archive: the same content is the same file


def fault_in_oneroster(put: Put, text: str) -> str:
    """Tell why a value cannot stand there; "" when it can."""
    if text[:1] in ("=", "@", "\t") or (text[:1] in ("+", "-") and not _NUMBER.fullmatch(text)):
        return "formula"
    if put.to in ENUMERATED and text not in ENUMERATED[put.to]:
        return "word"
    if put.to == "birthDate" and not _DAY.fullmatch(text):
        return "day"
    return ""


@dataclass
class _Book:
    """The rows of all files, by file and number."""

    school: str
    term: str
    rows: dict[str, dict[str, dict[str, str]]] = field(
        default_factory=lambda: {name: {} for name in COLUMNS}
    )

    def put(self, file: str, number: str, *, active: bool = True, **cells: str) -> None:
        """Put a row; what is active counts, where both are said."""
        status = "active" if active else "tobedeleted"
        if active or number not in self.rows[file]:
            self.rows[file][number] = {"sourcedId": number, "status": status, **cells}


def write_oneroster(
    way: FileWay, name: str, title: str, entries: Iterable[Entry], at: datetime
) -> bytes:
    """Write the files, as an archive.

    Args:
        way: With the school and its term; whether what changed alone is wanted.
        name: Of the destination, from which all numbers are made: they stay what they are.
        title: Of the system that writes.
        entries: The records.
        at: When, in UTC.
    """
    book = _Book(_number(name, "school"), _number(name, "term", way.term))
    year = way.last_day[:4]
    book.put("orgs", book.school, name=way.school, type="school")
    book.put(
        "academicSessions",
        book.term,
        title=way.term,
        type="term",
        startDate=way.first_day,
        endDate=way.last_day,
        schoolYear=year,
    )
    for entry in entries:
        _put_person(book, way, name, entry)
    return _pack(book, way, title, at)


def _put_person(book: _Book, way: FileWay, name: str, entry: Entry) -> None:
    after, before = entry.after, entry.before
    shown = after or before
    if shown is None:
        return
    user = _number(name, "user", str(entry.record))
    active = after is not None
    fields = shown.fields
    role = fields.get("role", "student")
    book.put(
        "users",
        user,
        active=active,
        enabledUser="true" if active else "false",
        primaryOrgSourcedId=book.school,
        **{one: fields[one] for one in USER if one in fields},
    )
    book.put(
        "roles",
        _number(name, "role", str(entry.record)),
        active=active,
        userSourcedId=user,
        roleType="primary",
        role=role,
        orgSourcedId=book.school,
    )
    if any(one in fields for one in PERSON):
        cells = {one: fields[one] for one in PERSON if one in fields}
        book.put("demographics", user, active=active, **cells)
    groups = set(after.groups) if after else set()
    left = _left(entry, groups) if way.only_changes else set()
    for group in sorted(groups | left):
        number = _put_class(book, name, group)
        if role in IN_CLASS:
            book.put(
                "enrollments",
                _number(name, "enrolment", f"{number} {entry.record}"),
                active=group in groups,
                classSourcedId=number,
                schoolSourcedId=book.school,
                userSourcedId=user,
                role=role,
                primary="true" if role == "teacher" else "",
            )


def _left(entry: Entry, groups: Collection[str]) -> set[str]:
    """List the groups that somebody was in and is in no more."""
    was: Content | None = entry.before if entry.act != Act.JOIN else None
    return set(was.groups) - set(groups) if was else set()


def _put_class(book: _Book, name: str, group: str) -> str:
    """Put the class that a group is, and its course."""
    number, course = _number(name, "class", group), _number(name, "course", group)
    book.put("courses", course, title=group, orgSourcedId=book.school)
    book.put(
        "classes",
        number,
        title=group,
        courseSourcedId=course,
        classType="scheduled",
        schoolSourcedId=book.school,
        termSourcedIds=book.term,
    )
    return number


def _number(name: str, kind: str, what: str = "") -> str:
    """Make the number of something, which stays as long as the destination does."""
    text = f"{name}\x1f{kind}\x1f{what}"
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


def _pack(book: _Book, way: FileWay, title: str, at: datetime) -> bytes:
    made = {name: rows for name, rows in book.rows.items() if rows or name != "demographics"}
    kinds: Mapping[str, str] = defaultdict(
        lambda: "absent", dict.fromkeys(made, "delta" if way.only_changes else "bulk")
    )
    manifest = [
        ("manifest.version", "1.0"),
        ("oneroster.version", "1.2"),
        *((f"file.{name}", kinds[name]) for name in FILES),
        ("source.systemName", title),
        ("source.systemCode", "nevefield"),
    ]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        _add(archive, "manifest", ("propertyName", "value"), manifest)
        for name, rows in made.items():
            columns = (*FIRST, *COLUMNS[name])
            # status and moment are those of a delta alone
            said = {"dateLastModified": f"{at:%Y-%m-%dT%H:%M:%S}.000Z"} if way.only_changes else {}
            plain = {} if way.only_changes else {"status": ""}
            lines = (
                [{**row, **said, **plain}.get(column, "") for column in columns]
                for _, row in sorted(rows.items())
            )
            _add(archive, name, columns, lines)
    return out.getvalue()


def _add(
    archive: zipfile.ZipFile, name: str, columns: Iterable[str], rows: Iterable[Iterable[str]]
) -> None:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows(rows)
    info = zipfile.ZipInfo(f"{name}.csv", MOMENT)
    info.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(info, text.getvalue().encode())
