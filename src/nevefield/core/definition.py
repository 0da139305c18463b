"""A roster's definition: a Table Schema document with our own properties under `nevefield`.

Source: Table Schema, Data Package standard (https://datapackage.org/standard/table-schema/), and our `docs/definition.md`.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.options import check_option
from nevefield.core.columns.schemes import SCHEMES
from nevefield.core.errors import WrongDefinition
from nevefield.core.patterns import refuse_pattern
from nevefield.core.placing.kinds import GroupKind, read_kinds
from nevefield.core.placing.rules import Rule, read_rules
from nevefield.core.texts import near

__all__ = ["Check", "Definition", "Field", "ForeignKey", "Identifier", "read_definition"]

TYPES = ("string", "integer", "number", "boolean", "date", "datetime", "year")
CONSTRAINTS = ("required", "unique", "minimum", "maximum", "minLength", "maxLength", "pattern", "enum")
WEIGHTS = ("stop", "ask", "note")
FIELD_OWN = (
    "aliases",
    "identifier",
    "codeList",
    "parent",
    "several",
    "kind",
    "region",
    "means",
    "owner",
    "sensitive",
    "onDay",
    "update",
)
ROSTER_OWN = ("keys", "checks", "likeness", "approval", "groups", "placement")
APPROVAL_OWN = ("from", "raising")
LARGEST = 1_000_000_000  # number that a definition says
LONGEST_NAME, LONGEST_TITLE = 80, 120  # characters
UPDATES = ("filled", "file", "ours", "blanks", "add", "remove")
COUNTING = 4  # of them are for every field; those behind are for numbers and several values
LIKENESS_OWN = ("off", "certain", "nobody")
REFERENCE_OWN = ("hierarchy",)
IDENTIFIER_OWN = ("prefix", "alphabet", "length", "check", "over", "weights", "modulus")
CHECK_OWN = ("check", "fields", "weight", "text", "id", "off")


@dataclass(frozen=True)
class Identifier:
    """How an identifier is built; `length` counts all of it, prefix and check character included."""

    length: int = 0  # 0: any
    prefix: str = ""
    alphabet: str = ""  # characters between prefix and check; "": any
    check: str = ""  # name of the scheme; "": none
    whole: bool = False  # the check is worked out over the prefix too
    weights: tuple[int, ...] = ()
    modulus: int = 0


@dataclass(frozen=True)
class Field:
    """One field of a roster."""

    name: str
    title: str
    type: str = "string"
    format: str = "default"
    required: bool = False
    unique: bool = False
    minimum: str = ""
    maximum: str = ""
    min_length: int | None = None
    max_length: int | None = None
    pattern: str = ""
    enum: tuple[str, ...] = ()
    aliases: tuple[str, ...] = ()
    identifier: Identifier | None = None
    code_list: str = ""
    parent: str = ""  # the field whose code must be the parent of this one's
    several: str = ""  # separator between several values in a cell; "": one value
    kind: str = ""  # "phone"
    region: str = ""  # of a phone number without its country, ISO 3166-1
    means: str = ""  # what the field is about a person
    owner: str = ""  # the office that owns the field
    sensitive: bool = False
    update: str = ""  # the update rule that holds unless somebody says otherwise; "": see `rule`
    on_day: str = ""  # the field whose day a code must be in use on; "": today
    form: Field | None = None  # the field that it refers to: values are compared as that one's are

    @property
    def rule(self) -> str:
        """The update rule that holds unless somebody says otherwise: a file takes nothing away that it does not name."""
        return self.update or ("add" if self.several else "filled")

    @property
    def is_mail(self) -> bool:
        """Tell whether the field holds mail addresses."""
        return self.type == "string" and self.format == "email"

    @property
    def is_telling(self) -> bool:
        """Tell whether the field's texts can be told from others by what they look like: mail addresses, phone numbers."""
        return self.is_mail or self.kind == "phone"

    @property
    def folds_case(self) -> bool:
        """Tell whether values that differ only in case are the same: mail addresses, codes, identifiers."""
        return self.is_mail or bool(self.code_list) or self.identifier is not None


@dataclass(frozen=True)
class Check:
    """One declared check; what it takes is in `checking.catalog`."""

    check: str
    fields: tuple[str, ...]
    weight: str = "stop"
    options: dict[str, Any] = field(default_factory=dict)
    text: str = ""  # its own words, in place of ours
    id: str = ""  # a name by which it is spoken of


@dataclass(frozen=True)
class ForeignKey:
    """Fields that refer to a record of this roster (`resource` "") or another."""

    fields: tuple[str, ...]
    resource: str
    target: tuple[str, ...]
    hierarchy: bool = False  # it goes up a tree: following it must lead in no circle


@dataclass(frozen=True)
class Approval:
    """When a second account has to agree before a roster is altered."""

    least: int | None = None  # from so many altered records on; None: never for their number
    raising: bool = False  # when somebody gains a privilege above the lowest

    def why(self, altered: int, raised: int = 0) -> str:
        """Say why a second account has to agree; "" when none has to.

        Args:
            altered: How many records are altered.
            raised: How many people gain a privilege.
        """
        said = []
        if self.least is not None and altered >= self.least:
            size = "every change" if self.least == 1 else f"a change of {self.least:,} records or more"
            said.append(f"{size} of this roster needs a second person")
        if self.raising and raised:
            said.append(f"{raised:,} {'person gains' if raised == 1 else 'people gain'} a privilege, which needs a second person")
        return " and ".join(said)


@dataclass(frozen=True)
class Definition:
    """A roster's fields, keys and checks."""

    name: str
    title: str
    fields: tuple[Field, ...]
    primary_key: tuple[str, ...] = ()
    unique_keys: tuple[tuple[str, ...], ...] = ()
    missing_values: tuple[str, ...] = ("",)
    foreign_keys: tuple[ForeignKey, ...] = ()
    keys: tuple[tuple[str, ...], ...] = ()  # each alone is enough to know a record
    checks: tuple[Check, ...] = ()
    likeness: bool = True  # people are told by likeness where no key says who they are
    approval: Approval = Approval()  # when a second account has to agree
    groups: tuple[GroupKind, ...] = ()  # kinds of group that its fields say
    placement: tuple[Rule, ...] = ()  # what follows from a record, from the top
    limits: tuple[float, float] = (98.0, 4.0)  # from which score on likeness settles it, and up to which it is nobody
    document: dict[str, Any] = field(default_factory=dict, compare=False)

    @cached_property
    def by_name(self) -> dict[str, Field]:
        """Find a field by its name."""
        return {one.name: one for one in self.fields}

    @cached_property
    def possible_keys(self) -> tuple[tuple[str, ...], ...]:
        """List what people can be known by: the keys, then every other field or fields together that only one person has."""
        singles = [(one.name,) for one in self.fields if one.unique]
        return tuple(dict.fromkeys([*self.keys, *singles, *self.unique_keys]))

    @cached_property
    def telling(self) -> tuple[Field, ...]:
        """List the fields whose texts can be told from others by what they look like."""
        return tuple(one for one in self.fields if one.is_telling)

    @cached_property
    def missing(self) -> frozenset[str]:
        """List the texts that count as nothing there."""
        return frozenset(self.missing_values) | {""}

    def title_of(self, name: str) -> str:
        """Name a field for a person."""
        return self.by_name[name].title


def read_definition(document: Any) -> Definition:
    """Read a definition from its JSON document.

    Args:
        document: The parsed JSON.

    Returns:
        The definition.

    Raises:
        WrongDefinition: With the place, such as `fields[3].nevefield.codeLst`, and what would be right.
    """
    if not isinstance(document, dict):
        raise WrongDefinition("", "A definition is a JSON object with a list of fields.")
    for part, most in (("name", LONGEST_NAME), ("title", LONGEST_TITLE)):
        _short(document, part, part, most)
    listed = document.get("fields")
    if not isinstance(listed, list) or not listed:
        raise WrongDefinition("fields", "is missing or empty; a roster has at least one field.")
    fields: list[Field] = []
    for number, described in enumerate(listed):
        one = _read_field(described, f"fields[{number}]")
        if any(other.name == one.name for other in fields):
            raise WrongDefinition(f"fields[{number}].name", f"{one.name!r} is the name of an earlier field too.")
        fields.append(one)
    names = {one.name for one in fields}
    own = _object(document, "nevefield", "nevefield")
    _refuse_unknown(own, ROSTER_OWN, "nevefield")
    foreign = tuple(
        _read_foreign(one, number, names, document.get("name", "")) for number, one in enumerate(_list(document, "foreignKeys"))
    )
    fields = _with_forms(fields, foreign)
    for number, one in enumerate(fields):
        if one.parent and one.parent not in names:
            raise WrongDefinition(f"fields[{number}].nevefield.parent", _no_field(one.parent, names))
        if one.on_day and one.on_day not in names:
            raise WrongDefinition(f"fields[{number}].nevefield.onDay", _no_field(one.on_day, names))
        if one.parent and not one.code_list:
            raise WrongDefinition(f"fields[{number}].nevefield.parent", "needs a codeList beside it.")
    _refuse_loops(fields)
    primary = _names(document.get("primaryKey", []), "primaryKey", names)
    unique = tuple(_names(key, f"uniqueKeys[{number}]", names) for number, key in enumerate(_list(document, "uniqueKeys")))
    keys = tuple(
        _names(key, f"nevefield.keys[{number}]", names) for number, key in enumerate(_list(own, "keys", "nevefield.keys"))
    )
    if primary and primary not in keys:
        keys = (primary, *keys)
    return Definition(
        name=_text(document, "name", "name") or "roster",
        title=_text(document, "title", "title") or _text(document, "name", "name") or "Roster",
        fields=tuple(fields),
        primary_key=primary,
        unique_keys=unique,
        missing_values=tuple(_texts(document.get("missingValues", [""]), "missingValues")),
        foreign_keys=foreign,
        keys=keys,
        checks=_read_checks(own, names),
        document=document,
        groups=read_kinds(_list(own, "groups", "nevefield.groups"), names),
        placement=read_rules(_list(own, "placement", "nevefield.placement"), names),
        approval=_read_approval(_object(own, "approval", "nevefield.approval")),
        **_read_likeness(_object(own, "likeness", "nevefield.likeness")),
    )


def _read_approval(own: dict[str, Any]) -> Approval:
    """Read when a second account has to agree."""
    _refuse_unknown(own, APPROVAL_OWN, "nevefield.approval")
    least = _count(own, "from", "nevefield.approval.from")
    if least == 0:
        raise WrongDefinition("nevefield.approval.from", "is a number of records from 1 on; 1 is always.")
    return Approval(least, _flag(own, "raising", "nevefield.approval.raising"))


def _read_likeness(own: dict[str, Any]) -> dict[str, Any]:
    """Read whether and from which scores on likeness tells who rows are."""
    _refuse_unknown(own, LIKENESS_OWN, "nevefield.likeness")
    limits = []
    for name, default, least, most in (("certain", 98.0, 50, 100), ("nobody", 4.0, 0, 50)):
        value = own.get(name, default)
        if isinstance(value, bool) or not isinstance(value, (int, float)) or not least <= value <= most:
            raise WrongDefinition(f"nevefield.likeness.{name}", f"is a number from {least} to {most}.")
        limits.append(float(value))
    return {"likeness": not _flag(own, "off", "nevefield.likeness.off"), "limits": (limits[0], limits[1])}


def _refuse_loops(fields: list[Field]) -> None:
    """See that no field's parent leads back to it."""
    parents = {one.name: one.parent for one in fields if one.parent}
    for number, one in enumerate(fields):
        way = [one.name]
        while (parent := parents.get(way[-1])) and parent not in way:
            way.append(parent)
        if parent and parent == one.name:
            told = " → ".join([*way, parent])
            raise WrongDefinition(f"fields[{number}].nevefield.parent", f"goes in a circle: {told}; one of them has no parent.")


def _read_field(described: Any, place: str) -> Field:
    if isinstance(described, str):
        described = {"name": described}
    if not isinstance(described, dict):
        raise WrongDefinition(place, "a field is a JSON object with a name.")
    name = _text(described, "name", f"{place}.name")
    if not name:
        raise WrongDefinition(f"{place}.name", "is missing.")
    _short(described, "name", f"{place}.name", LONGEST_NAME)
    _short(described, "title", f"{place}.title", LONGEST_TITLE)
    kind = _text(described, "type", f"{place}.type") or "string"
    if kind not in TYPES:
        raise WrongDefinition(f"{place}.type", f"{kind!r} is no type here; {near(kind, TYPES)}")
    limits = _object(described, "constraints", f"{place}.constraints")
    _refuse_unknown(limits, CONSTRAINTS, f"{place}.constraints")
    own = _object(described, "nevefield", f"{place}.nevefield")
    _refuse_unknown(own, FIELD_OWN, f"{place}.nevefield")
    pattern = _text(limits, "pattern", f"{place}.constraints.pattern")
    if why := refuse_pattern(pattern):
        raise WrongDefinition(f"{place}.constraints.pattern", f"is no regular expression that can be used: it {why}.")
    if own.get("kind", "phone") != "phone":
        raise WrongDefinition(f"{place}.nevefield.kind", f"{own['kind']!r} is unknown; known is phone")
    return Field(
        name=name,
        title=_text(described, "title", f"{place}.title") or name.replace("_", " ").capitalize(),
        type=kind,
        format=_text(described, "format", f"{place}.format") or "default",
        required=_flag(limits, "required", f"{place}.constraints.required"),
        unique=_flag(limits, "unique", f"{place}.constraints.unique"),
        minimum=_limit(limits, "minimum"),
        maximum=_limit(limits, "maximum"),
        min_length=_count(limits, "minLength", f"{place}.constraints.minLength"),
        max_length=_count(limits, "maxLength", f"{place}.constraints.maxLength"),
        pattern=pattern,
        enum=tuple(_limit({"one": one}, "one") for one in _list(limits, "enum", f"{place}.constraints.enum")),
        aliases=tuple(_texts(own.get("aliases", []), f"{place}.nevefield.aliases")),
        identifier=_read_identifier(own["identifier"], f"{place}.nevefield.identifier") if "identifier" in own else None,
        code_list=_text(own, "codeList", f"{place}.nevefield.codeList"),
        parent=_text(own, "parent", f"{place}.nevefield.parent"),
        several=_text(own, "several", f"{place}.nevefield.several"),
        kind=_text(own, "kind", f"{place}.nevefield.kind"),
        region=_text(own, "region", f"{place}.nevefield.region"),
        means=_text(own, "means", f"{place}.nevefield.means"),
        owner=_text(own, "owner", f"{place}.nevefield.owner"),
        sensitive=_flag(own, "sensitive", f"{place}.nevefield.sensitive"),
        on_day=_text(own, "onDay", f"{place}.nevefield.onDay"),
        update=_update(own, kind, place),
    )


def _update(own: dict[str, Any], kind: str, place: str) -> str:
    """Read a field's update rule."""
    rule = _text(own, "update", f"{place}.nevefield.update")
    counts = kind in ("integer", "number") or bool(own.get("several"))
    known = UPDATES if counts else UPDATES[:COUNTING]
    if rule and rule not in known:
        raise WrongDefinition(f"{place}.nevefield.update", f"{rule!r} is unknown; {near(rule, known)}")
    return rule


def _read_identifier(described: Any, place: str) -> Identifier:
    if not isinstance(described, dict):
        raise WrongDefinition(place, "is a JSON object with length, alphabet, prefix, check.")
    _refuse_unknown(described, IDENTIFIER_OWN, place)
    check = _text(described, "check", f"{place}.check")
    if check and check not in SCHEMES:
        raise WrongDefinition(f"{place}.check", f"{check!r} is unknown; {near(check, SCHEMES)}")
    over = _text(described, "over", f"{place}.over")
    if over not in ("", "whole", "body"):
        raise WrongDefinition(f"{place}.over", f"{over!r} is unknown; known are body, whole")
    weights = described.get("weights", [])
    if not isinstance(weights, list) or not all(isinstance(one, int) for one in weights):
        raise WrongDefinition(f"{place}.weights", "is a list of whole numbers.")
    modulus = _count(described, "modulus", f"{place}.modulus") or 0
    if check == "weighted" and (not weights or modulus < 2):
        raise WrongDefinition(f"{place}.check", "'weighted' needs weights and a modulus.")
    return Identifier(
        length=_count(described, "length", f"{place}.length") or 0,
        prefix=_text(described, "prefix", f"{place}.prefix"),
        alphabet=_text(described, "alphabet", f"{place}.alphabet"),
        check=check,
        whole=over == "whole",
        weights=tuple(weights),
        modulus=modulus,
    )


def _read_checks(own: dict[str, Any], names: set[str]) -> tuple[Check, ...]:
    """Read the declared checks; those switched off are looked at, and then left away."""
    listed = _list(own, "checks", "nevefield.checks")
    read = [_read_check(one, number, names) for number, one in enumerate(listed)]
    return tuple(check for check, one in zip(read, listed, strict=True) if not _flag(one, "off", "nevefield.checks.off"))


def _read_check(described: Any, number: int, names: set[str]) -> Check:
    place = f"nevefield.checks[{number}]"
    if not isinstance(described, dict):
        raise WrongDefinition(place, "a check is a JSON object with check and fields.")
    check = _text(described, "check", f"{place}.check")
    if check not in DECLARED:
        raise WrongDefinition(f"{place}.check", f"{check!r} is no check; {near(check, DECLARED)}")
    kind = DECLARED[check]
    _refuse_unknown(described, (*CHECK_OWN, *kind.needs, *kind.takes), place)
    fields = _names(described.get("fields", []), f"{place}.fields", names)
    least, most = kind.fields
    if not least <= len(fields) <= most:
        count = f"{least}" if least == most else f"at least {least}" if len(fields) < least else f"at most {most}"
        raise WrongDefinition(f"{place}.fields", f"{check} takes {count} field{'s' if count != '1' else ''}.")
    weight = _text(described, "weight", f"{place}.weight") or kind.weight
    if weight not in WEIGHTS:
        raise WrongDefinition(f"{place}.weight", f"{weight!r} is no weight; known are stop, ask, note")
    for option in kind.needs:
        if option not in described:
            raise WrongDefinition(f"{place}.{option}", f"is missing; {check} needs it.")
    options = {name: described[name] for name in (*kind.needs, *kind.takes) if name in described}
    for name, value in options.items():
        check_option(check, name, value, f"{place}.{name}", names)
    return Check(
        check,
        fields,
        weight,
        options,
        text=_text(described, "text", f"{place}.text"),
        id=_text(described, "id", f"{place}.id"),
    )


def _read_foreign(described: Any, number: int, names: set[str], roster: Any) -> ForeignKey:
    place = f"foreignKeys[{number}]"
    if not isinstance(described, dict) or not isinstance(described.get("reference"), dict):
        raise WrongDefinition(place, "is a JSON object with fields and reference.")
    reference = described["reference"]
    resource = _text(reference, "resource", f"{place}.reference.resource")
    resource = "" if resource == roster else resource
    fields = _names(described.get("fields", []), f"{place}.fields", names)
    named = reference.get("fields", [])
    target = (named,) if isinstance(named, str) else tuple(_texts(named, f"{place}.reference.fields"))
    if not resource:
        _names(list(target), f"{place}.reference.fields", names)
    if len(fields) != len(target) or not fields:
        raise WrongDefinition(f"{place}.reference.fields", f"names {len(target)} for {len(fields)}; each field refers to one.")
    own = _object(described, "nevefield", f"{place}.nevefield")
    _refuse_unknown(own, REFERENCE_OWN, f"{place}.nevefield")
    hierarchy = _flag(own, "hierarchy", f"{place}.nevefield.hierarchy")
    if hierarchy and (resource or len(fields) != 1):
        raise WrongDefinition(f"{place}.nevefield.hierarchy", "is for one field that refers to one of this roster.")
    return ForeignKey(fields, resource, target, hierarchy)


def _with_forms(fields: list[Field], foreign: tuple[ForeignKey, ...]) -> list[Field]:
    """Give each field that refers to one of the same roster the form of that one."""
    by_name = {one.name: one for one in fields}
    leads = {name: target for key in foreign if not key.resource for name, target in zip(key.fields, key.target, strict=True)}
    formed = []
    for one in fields:
        way = [one.name]
        while (target := leads.get(way[-1])) and target not in way:
            way.append(target)
        formed.append(replace(one, form=by_name[way[-1]]) if len(way) > 1 else one)
    return formed


def _names(given: Any, place: str, names: set[str]) -> tuple[str, ...]:
    listed = [given] if isinstance(given, str) else given
    for name in _texts(listed, place):
        if name not in names:
            raise WrongDefinition(place, _no_field(name, names))
    return tuple(listed)


def _no_field(name: str, names: set[str]) -> str:
    return f"there is no field {name!r}; {near(name, names)}"


def _refuse_unknown(given: dict[str, Any], known: tuple[str, ...], place: str) -> None:
    for name in given:
        if name not in known:
            raise WrongDefinition(f"{place}.{name}", near(name, known))


def _object(given: dict[str, Any], name: str, place: str) -> dict[str, Any]:
    found = given.get(name, {})
    if not isinstance(found, dict):
        raise WrongDefinition(place, "is a JSON object.")
    return found


def _list(given: dict[str, Any], name: str, place: str = "") -> list[Any]:
    found = given.get(name, [])
    if not isinstance(found, list):
        raise WrongDefinition(place or name, "is a list.")
    return found


def _text(given: dict[str, Any], name: str, place: str) -> str:
    found = given.get(name, "")
    if not isinstance(found, str):
        raise WrongDefinition(place, f"is text, not {found!r}.")
    return found


def _texts(given: Any, place: str) -> list[str]:
    if not isinstance(given, list) or not all(isinstance(one, str) for one in given):
        raise WrongDefinition(place, "is a list of texts.")
    return given


def _flag(given: dict[str, Any], name: str, place: str) -> bool:
    found = given.get(name, False)
    if not isinstance(found, bool):
        raise WrongDefinition(place, f"is true or false, not {found!r}.")
    return found


def _short(given: dict[str, Any], name: str, place: str, most: int) -> None:
    if len(_text(given, name, place)) > most:
        raise WrongDefinition(place, f"has at most {most} characters.")


def _count(given: dict[str, Any], name: str, place: str) -> int | None:
    found = given.get(name)
    if found is not None and (not isinstance(found, int) or isinstance(found, bool) or found < 0):
        raise WrongDefinition(place, f"is a whole number from 0, not {found!r}.")
    if found is not None and found > LARGEST:
        raise WrongDefinition(place, f"is at most {LARGEST:,}.")
    return found


def _limit(given: dict[str, Any], name: str) -> str:
    found = given.get(name, "")
    return ("true" if found else "false") if isinstance(found, bool) else str(found)
