"""Reading a definition: fields, keys, references, checks, likeness and approval."""

from __future__ import annotations

from dataclasses import replace

from nevefield.core.borders import Json
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.options import check_option, names_in
from nevefield.core.columns.schemes import SCHEMES
from nevefield.core.defining.groups import read_kinds, read_rules
from nevefield.core.defining.parts import (
    keep_short,
    read_count,
    read_flag,
    read_limit,
    read_list,
    read_names,
    read_object,
    read_text,
    read_texts,
    refuse_unknown,
    say_no_field,
)
from nevefield.core.definition import (
    COUNTING,
    UPDATES,
    Approval,
    Check,
    Definition,
    Field,
    ForeignKey,
    Identifier,
)
from nevefield.core.errors import WrongDefinition
from nevefield.core.patterns import refuse_pattern
from nevefield.core.texts import near

__all__ = ["read_definition"]

TYPES = ("string", "integer", "number", "boolean", "date", "datetime", "year")
CONSTRAINTS = (
    "required",
    "unique",
    "minimum",
    "maximum",
    "minLength",
    "maxLength",
    "pattern",
    "enum",
)
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
# what a proposal says of the file that it was made from
PASSED_OVER = ("seen",)
APPROVAL_OWN = ("from", "raising")
LONGEST_NAME, LONGEST_TITLE = 80, 120  # characters
LIKENESS_OWN = ("off", "certain", "nobody")
REFERENCE_OWN = ("hierarchy",)
IDENTIFIER_OWN = ("prefix", "alphabet", "length", "check", "over", "weights", "modulus")
CHECK_OWN = ("check", "fields", "weight", "text", "id", "off")


def read_definition(document: Json) -> Definition:
    """Read a definition from its JSON document.

    Args:
        document: The parsed JSON.

    Returns:
        The definition.

    Raises:
        WrongDefinition: With the place, such as `fields[3].nevefield.codeLst`, and what would be
            right.
    """
    if not isinstance(document, dict):
        raise WrongDefinition("", "A definition is a JSON object with a list of fields.")
    for part, most in (("name", LONGEST_NAME), ("title", LONGEST_TITLE)):
        keep_short(document, part, part, most)
    listed = document.get("fields")
    if not isinstance(listed, list) or not listed:
        raise WrongDefinition("fields", "is missing or empty; a roster has at least one field.")
    fields: list[Field] = []
    for number, described in enumerate(listed):
        one = _read_field(described, f"fields[{number}]")
        if any(field.name == one.name for field in fields):
            raise WrongDefinition(
                f"fields[{number}].name", f"“{one.name}” is the name of an earlier field too."
            )
        fields.append(one)
    names = {field.name for field in fields}
    own = read_object(document, "nevefield", "nevefield")
    refuse_unknown(own, (*ROSTER_OWN, *PASSED_OVER), "nevefield")
    foreign = tuple(
        _read_foreign(one, number, names, document.get("name", ""))
        for number, one in enumerate(read_list(document, "foreignKeys"))
    )
    fields = _with_forms(fields, foreign)
    for number, one in enumerate(fields):
        if one.parent and one.parent not in names:
            raise WrongDefinition(
                f"fields[{number}].nevefield.parent", say_no_field(one.parent, names)
            )
        if one.on_day and one.on_day not in names:
            raise WrongDefinition(
                f"fields[{number}].nevefield.onDay", say_no_field(one.on_day, names)
            )
        if one.parent and not one.code_list:
            raise WrongDefinition(
                f"fields[{number}].nevefield.parent", "needs a codeList beside it."
            )
    _refuse_loops(fields)
    primary = read_names(document.get("primaryKey", []), "primaryKey", names)
    unique = _read_keys(read_list(document, "uniqueKeys"), "uniqueKeys", names)
    keys = _read_keys(read_list(own, "keys", "nevefield.keys"), "nevefield.keys", names)
    if primary and primary not in keys:
        keys = (primary, *keys)
    return Definition(
        name=read_text(document, "name", "name") or "roster",
        title=read_text(document, "title", "title")
        or read_text(document, "name", "name")
        or "Roster",
        fields=tuple(fields),
        primary_key=primary,
        unique_keys=unique,
        missing_values=tuple(read_texts(document.get("missingValues", [""]), "missingValues")),
        foreign_keys=foreign,
        keys=keys,
        checks=_read_checks(own, names),
        document=document,
        groups=read_kinds(read_list(own, "groups", "nevefield.groups"), names),
        placement=read_rules(read_list(own, "placement", "nevefield.placement"), names),
        approval=_read_approval(read_object(own, "approval", "nevefield.approval")),
        **_read_likeness(read_object(own, "likeness", "nevefield.likeness")),
    )


def _read_keys(listed: list[Json], place: str, names: set[str]) -> tuple[tuple[str, ...], ...]:
    """Read keys, each of one field or several; one of none tells nobody apart, and is passed
    over.
    """
    found = (read_names(key, f"{place}[{number}]", names) for number, key in enumerate(listed))
    return tuple(key for key in found if key)


def _read_approval(own: dict[str, Json]) -> Approval:
    """Read when a second account has to approve."""
    refuse_unknown(own, APPROVAL_OWN, "nevefield.approval")
    least = read_count(own, "from", "nevefield.approval.from")
    if least == 0:
        raise WrongDefinition(
            "nevefield.approval.from", "is a number of records from 1 on; 1 is always."
        )
    return Approval(least, read_flag(own, "raising", "nevefield.approval.raising"))


def _read_likeness(own: dict[str, Json]) -> dict[str, Json]:
    """Read whether and from which scores on likeness tells who rows are."""
    refuse_unknown(own, LIKENESS_OWN, "nevefield.likeness")
    limits = []
    for name, default, least, most in (("certain", 98.0, 50, 100), ("nobody", 4.0, 0, 50)):
        value = own.get(name, default)
        if (
            isinstance(value, bool)
            or not isinstance(value, (int, float))
            or not least <= value <= most
        ):
            raise WrongDefinition(
                f"nevefield.likeness.{name}", f"is a number from {least} to {most}."
            )
        limits.append(float(value))
    return {
        "likeness": not read_flag(own, "off", "nevefield.likeness.off"),
        "limits": (limits[0], limits[1]),
    }


def _refuse_loops(fields: list[Field]) -> None:
    """See that no field's parent leads back to it."""
    parents = {field.name: field.parent for field in fields if field.parent}
    for number, field in enumerate(fields):
        way = [field.name]
        while (parent := parents.get(way[-1])) and parent not in way:
            way.append(parent)
        if parent and parent == field.name:
            told = " → ".join([*way, parent])
            raise WrongDefinition(
                f"fields[{number}].nevefield.parent",
                f"goes in a circle: {told}; one of them has no parent.",
            )


def _read_field(described: Json, place: str) -> Field:
    if isinstance(described, str):
        described = {"name": described}
    if not isinstance(described, dict):
        raise WrongDefinition(place, "a field is a JSON object with a name.")
    name = read_text(described, "name", f"{place}.name")
    if not name:
        raise WrongDefinition(f"{place}.name", "is missing.")
    keep_short(described, "name", f"{place}.name", LONGEST_NAME)
    keep_short(described, "title", f"{place}.title", LONGEST_TITLE)
    kind = read_text(described, "type", f"{place}.type") or "string"
    if kind not in TYPES:
        raise WrongDefinition(f"{place}.type", f"“{kind}” is no type here; {near(kind, TYPES)}")
    limits = read_object(described, "constraints", f"{place}.constraints")
    refuse_unknown(limits, CONSTRAINTS, f"{place}.constraints")
    own = read_object(described, "nevefield", f"{place}.nevefield")
    refuse_unknown(own, FIELD_OWN, f"{place}.nevefield")
    pattern = read_text(limits, "pattern", f"{place}.constraints.pattern")
    if why := refuse_pattern(pattern):
        raise WrongDefinition(
            f"{place}.constraints.pattern", f"is no regular expression that can be used: it {why}."
        )
    if own.get("kind", "phone") != "phone":
        raise WrongDefinition(
            f"{place}.nevefield.kind", f"“{own['kind']}” is unknown; known is phone"
        )
    return Field(
        name=name,
        title=read_text(described, "title", f"{place}.title")
        or name.replace("_", " ").capitalize(),
        type=kind,
        format=read_text(described, "format", f"{place}.format") or "default",
        required=read_flag(limits, "required", f"{place}.constraints.required"),
        unique=read_flag(limits, "unique", f"{place}.constraints.unique"),
        minimum=read_limit(limits, "minimum"),
        maximum=read_limit(limits, "maximum"),
        min_length=read_count(limits, "minLength", f"{place}.constraints.minLength"),
        max_length=read_count(limits, "maxLength", f"{place}.constraints.maxLength"),
        pattern=pattern,
        enum=tuple(
            read_limit({"one": one}, "one")
            for one in read_list(limits, "enum", f"{place}.constraints.enum")
        ),
        aliases=tuple(read_texts(own.get("aliases", []), f"{place}.nevefield.aliases")),
        identifier=(
            _read_identifier(own["identifier"], f"{place}.nevefield.identifier")
            if "identifier" in own
            else None
        ),
        code_list=read_text(own, "codeList", f"{place}.nevefield.codeList"),
        parent=read_text(own, "parent", f"{place}.nevefield.parent"),
        several=read_text(own, "several", f"{place}.nevefield.several"),
        kind=read_text(own, "kind", f"{place}.nevefield.kind"),
        region=read_text(own, "region", f"{place}.nevefield.region"),
        means=read_text(own, "means", f"{place}.nevefield.means"),
        owner=read_text(own, "owner", f"{place}.nevefield.owner"),
        sensitive=read_flag(own, "sensitive", f"{place}.nevefield.sensitive"),
        on_day=read_text(own, "onDay", f"{place}.nevefield.onDay"),
        update=_update(own, kind, place),
    )


def _update(own: dict[str, Json], kind: str, place: str) -> str:
    """Read a field's update rule."""
    rule = read_text(own, "update", f"{place}.nevefield.update")
    counts = kind in ("integer", "number") or bool(own.get("several"))
    known = UPDATES if counts else UPDATES[:COUNTING]
    if rule and rule not in known:
        raise WrongDefinition(
            f"{place}.nevefield.update", f"“{rule}” is unknown; {near(rule, known)}"
        )
    return rule


def _read_identifier(described: Json, place: str) -> Identifier:
    if not isinstance(described, dict):
        raise WrongDefinition(place, "is a JSON object with length, alphabet, prefix, check.")
    refuse_unknown(described, IDENTIFIER_OWN, place)
    check = read_text(described, "check", f"{place}.check")
    if check and check not in SCHEMES:
        raise WrongDefinition(f"{place}.check", f"“{check}” is unknown; {near(check, SCHEMES)}")
    over = read_text(described, "over", f"{place}.over")
    if over not in ("", "whole", "body"):
        raise WrongDefinition(f"{place}.over", f"“{over}” is unknown; known are body, whole")
    weights = described.get("weights", [])
    if not isinstance(weights, list) or not all(isinstance(weight, int) for weight in weights):
        raise WrongDefinition(f"{place}.weights", "is a list of whole numbers.")
    modulus = read_count(described, "modulus", f"{place}.modulus") or 0
    if check == "weighted" and (not weights or modulus < 2):
        raise WrongDefinition(f"{place}.check", "'weighted' needs weights and a modulus.")
    return Identifier(
        length=read_count(described, "length", f"{place}.length") or 0,
        prefix=read_text(described, "prefix", f"{place}.prefix"),
        alphabet=read_text(described, "alphabet", f"{place}.alphabet"),
        check=check,
        whole=over == "whole",
        weights=tuple(weights),
        modulus=modulus,
    )


def _read_checks(own: dict[str, Json], names: set[str]) -> tuple[Check, ...]:
    """Read the declared checks; those switched off are looked at, and then left away."""
    listed = read_list(own, "checks", "nevefield.checks")
    read = [_read_check(one, number, names) for number, one in enumerate(listed)]
    return tuple(
        check
        for check, one in zip(read, listed, strict=True)
        if not read_flag(one, "off", "nevefield.checks.off")
    )


def _read_check(described: Json, number: int, names: set[str]) -> Check:
    place = f"nevefield.checks[{number}]"
    if not isinstance(described, dict):
        raise WrongDefinition(place, "a check is a JSON object with check and fields.")
    check = read_text(described, "check", f"{place}.check")
    if check not in DECLARED:
        raise WrongDefinition(f"{place}.check", f"“{check}” is no check; {near(check, DECLARED)}")
    kind = DECLARED[check]
    refuse_unknown(described, (*CHECK_OWN, *(option.name for option in kind.options)), place)
    fields = read_names(described.get("fields", []), f"{place}.fields", names)
    if not kind.fewest <= len(fields) <= kind.most:
        bound = f"at least {kind.fewest}" if len(fields) < kind.fewest else f"at most {kind.most}"
        count = f"{kind.most}" if kind.fewest == kind.most else bound
        raise WrongDefinition(
            f"{place}.fields", f"{check} takes {count} field{'s' if count != '1' else ''}."
        )
    weight = read_text(described, "weight", f"{place}.weight") or kind.weight
    if weight not in WEIGHTS:
        raise WrongDefinition(
            f"{place}.weight", f"“{weight}” is no weight; known are stop, ask, note"
        )
    values = {}
    for option in kind.options:
        if option.name in described:
            values[option.name] = described[option.name]
            check_option(option, values[option.name], f"{place}.{option.name}", names)
        elif option.is_needed:
            raise WrongDefinition(f"{place}.{option.name}", f"is missing; {check} needs it.")
    return Check(
        check,
        fields,
        weight,
        values,
        text=read_text(described, "text", f"{place}.text"),
        id=read_text(described, "id", f"{place}.id"),
        names=names_in(kind.options, values),
    )


def _read_foreign(described: Json, number: int, names: set[str], roster: Json) -> ForeignKey:
    place = f"foreignKeys[{number}]"
    if not isinstance(described, dict) or not isinstance(described.get("reference"), dict):
        raise WrongDefinition(place, "is a JSON object with fields and reference.")
    reference = described["reference"]
    resource = read_text(reference, "resource", f"{place}.reference.resource")
    resource = "" if resource == roster else resource
    fields = read_names(described.get("fields", []), f"{place}.fields", names)
    named = reference.get("fields", [])
    target = (
        (named,)
        if isinstance(named, str)
        else tuple(read_texts(named, f"{place}.reference.fields"))
    )
    if not resource:
        read_names(list(target), f"{place}.reference.fields", names)
    if len(fields) != len(target) or not fields:
        raise WrongDefinition(
            f"{place}.reference.fields",
            f"names {len(target)} for {len(fields)}; each field refers to one.",
        )
    own = read_object(described, "nevefield", f"{place}.nevefield")
    refuse_unknown(own, REFERENCE_OWN, f"{place}.nevefield")
    hierarchy = read_flag(own, "hierarchy", f"{place}.nevefield.hierarchy")
    if hierarchy and (resource or len(fields) != 1):
        raise WrongDefinition(
            f"{place}.nevefield.hierarchy", "is for one field that refers to one of this roster."
        )
    return ForeignKey(fields, resource, target, hierarchy)


def _with_forms(fields: list[Field], foreign: tuple[ForeignKey, ...]) -> list[Field]:
    """Give each field that refers to one of the same roster the form of that one."""
    by_name = {field.name: field for field in fields}
    leads = {
        name: target
        for key in foreign
        if not key.resource
        for name, target in zip(key.fields, key.target, strict=True)
    }
    formed = []
    for field in fields:
        way = [field.name]
        while (target := leads.get(way[-1])) and target not in way:
            way.append(target)
        formed.append(replace(field, form=by_name[way[-1]]) if len(way) > 1 else field)
    return formed
