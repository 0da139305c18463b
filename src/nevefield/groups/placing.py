"""Put people into groups: moved by hand, or spread; either becomes an intake that is looked at
and applied like any other.
"""

from __future__ import annotations

import json
from collections import defaultdict
from dataclasses import dataclass, field, replace
from datetime import timedelta
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.defining.groups import read_rules
from nevefield.core.definition import Rule
from nevefield.core.placing.groups import bands_of
from nevefield.core.placing.rules import Effect, effects_of
from nevefield.core.placing.spreading import Clash, Question, spread
from nevefield.core.texts import SEVERAL, near
from nevefield.groups.errors import WrongPlacing
from nevefield.groups.looking import OpenKind, open_kind
from nevefield.intakes.evaluating import open_intake, placed_by_hand
from nevefield.proposals.changing import MadeRows, keep_rows
from nevefield.rosters.snapshots import as_seen, load_codes, load_snapshot, require_roster

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.rosters import Roster

__all__ = [
    "Asked",
    "RuleHere",
    "Spreading",
    "look_at_rules",
    "place_people",
    "run_rules",
    "spread_people",
]

MOST_PEOPLE = 20_000  # that are spread at once
# people times groups of one part, where wishes make everybody a case of their own
MOST_PLACES = 60_000


@dataclass(frozen=True)
class Asked:
    """How people are to be spread."""

    records: tuple[int, ...]  # the records' numbers
    # own names of the groups that may be used; those that their part has today when left out
    groups: tuple[str, ...] = ()
    anew: bool = False  # whether those who have a group count as having none
    even: tuple[str, ...] = ()  # fields of which each group is to have its share
    # fields: who has the same value there is kept apart, such as the guardian of siblings
    apart: tuple[str, ...] = ()
    together: tuple[str, ...] = ()  # fields: who has the same value there stays together
    sizes: bool = True  # whether least and most are kept
    one_band: bool = True  # whether people of one band of ages only are in a group


@dataclass
class Spreading:
    """What came of it; nothing is done yet."""

    moves: dict[int, str] = field(default_factory=dict)  # by record: the group's own name
    stay: int = 0  # of those chosen, who keep the group of today
    moved: int = 0  # who leave the group of today
    clashes: list[str] = field(default_factory=list)  # in words
    lacking: list[int] = field(default_factory=list)  # records whose part is not known
    # sizes of the groups that were looked at
    before: dict[tuple[str, ...], int] = field(default_factory=dict)
    after: dict[tuple[str, ...], int] = field(default_factory=dict)
    is_least: bool = True


def place_people(
    context: Context,
    name: str,
    kind_name: str,
    moves: Mapping[int, str],
    account_id: int | None,
    *,
    leaving: Mapping[int, str] | None = None,
    is_spread: bool = False,
) -> int:
    """Put people into groups of their own part, as an intake that somebody looks at and applies.

    Where people are in several groups of a kind at once, only the group that they leave is taken
    away. Where a record is a membership, it ends yesterday and another begins today.

    Args:
        context: Database and clock.
        name: Of the roster.
        kind_name: Of the kind.
        moves: By record (of the person, or of the membership) the group's own name; "" takes them
            out.
        account_id: Who.
        leaving: By record the group that is left, where there may be several.
        is_spread: Whether this came of spreading.

    Returns:
        The intake's number.

    Raises:
        NoSuchRoster, NoSuchKind: There is none.
        WrongPlacing: Nobody is named, or a membership cannot be ended.
    """
    opened = open_kind(context, name, kind_name, context.today())
    snapshot = opened.snapshot
    places = [place for place, number in enumerate(snapshot.ids.tolist()) if number in moves]
    if not places:
        raise WrongPlacing("Nobody who is in the roster is to be moved.")
    if opened.kind.each:
        fields, rows = _renew_memberships(opened, places, moves)
    else:
        fields, rows = [opened.kind.field], _move_people(opened, places, moves, leaving or {})
    data = ("\n".join(json.dumps(row, ensure_ascii=False) for row in rows) + "\n").encode()
    who = f"{len(places):,} {'person' if len(places) == 1 else 'people'}"
    title = f"{opened.kind.title}: {who} {'spread' if is_spread else 'moved by hand'}"
    kind = "spread" if is_spread else "many"
    with context.database.transaction() as connection:
        number = keep_rows(
            context,
            connection,
            opened.roster,
            snapshot,
            MadeRows(data=data, places=places, fields=fields, title=title, kind=kind),
            account_id,
        )
    open_intake(context, number)
    return number


def _move_people(
    opened: OpenKind, places: list[int], moves: Mapping[int, str], leaving: Mapping[int, str]
) -> list[dict[str, str]]:
    """Write the key and the group of people; of several groups, with the one that they leave
    taken out.
    """
    snapshot, name = opened.snapshot, opened.kind.field
    separator = snapshot.definition.by_name[name].several
    rows = []
    for place in places:
        number = int(snapshot.ids[place])
        to = moves[number]
        if separator:
            had = (snapshot.columns[name].at(place) or "").split(SEVERAL)
            to = separator.join(
                dict.fromkeys(text for text in (*had, to) if text and text != leaving.get(number))
            )
        rows.append(
            {
                name: snapshot.columns[name].at(place) or ""
                for name in snapshot.definition.primary_key
            }
            | {name: to}
        )
    return rows


def _renew_memberships(
    opened: OpenKind, places: list[int], moves: Mapping[int, str]
) -> tuple[list[str], list[dict[str, str]]]:
    """End memberships yesterday, and begin others today; one that began today only ends today.

    Raises:
        WrongPlacing: The kind has no first and last day.
    """
    kind, snapshot = opened.kind, opened.snapshot
    if not kind.first or not kind.last:
        raise WrongPlacing(
            f"Groups of {opened.roster.title} have no first and last day: change who is in them on"
            " its page."
        )
    today, yesterday = opened.day.isoformat(), (opened.day - timedelta(days=1)).isoformat()
    names = [field.name for field in snapshot.definition.fields]
    ended, begun = [], []
    for place in places:
        row = {
            name: snapshot.definition.by_name[name].typed(snapshot.columns[name].at(place))
            for name in names
        }
        ended.append(row | {kind.last: max(yesterday, row[kind.first][:10])})
        if to := moves[int(snapshot.ids[place])]:
            fresh = {
                kind.person: row[kind.person],
                kind.each: row[kind.each],
                kind.field: to,
                kind.first: today,
            }
            begun.append(dict.fromkeys(names, "") | fresh)
    return [name for name in names if name not in snapshot.definition.primary_key], ended + begun


@dataclass(frozen=True)
class RuleHere:
    """A placement rule with what it comes to in a roster."""

    rule: Rule
    effect: Effect


def look_at_rules(
    context: Context, name: str, rules: Sequence[Any] | None = None
) -> tuple[Roster, Snapshot, list[RuleHere]]:
    """Say what placement rules come to in a roster as it stands: those in force, or others that are
    tried.

    Args:
        context: Database and clock.
        name: Of the roster.
        rules: Their JSON; None for those in force.

    Raises:
        NoSuchRoster: There is none.
        WrongDefinition: A rule cannot be understood.
        WrongPlacing: A rule puts people into a group that there is not.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        # What a rule comes to is the same whoever looks; names and values are given as they may be
        # seen.
        snapshot, lists = load_snapshot(connection.whole(), roster), load_codes(connection)
        shown = as_seen(connection, roster, snapshot)
        definition = snapshot.definition
        read = definition.placement if rules is None else read_rules(rules, definition.by_name)
        hand = placed_by_hand(connection, roster, replace(definition, placement=read))
    for rule in read:
        listed = lists.get(definition.by_name[rule.field].code_list)
        if listed is not None and rule.value not in listed.by_code:
            known = near(rule.value, listed.by_code)
            raise WrongPlacing(
                f"There is no {definition.title_of(rule.field).lower()} “{rule.value}”; {known}"
            )
    effects = effects_of(read, snapshot, hand, context.today())
    return (
        roster,
        shown,
        [RuleHere(rule, effect) for rule, effect in zip(read, effects, strict=True)],
    )


def run_rules(context: Context, name: str, account_id: int | None) -> int:
    """Let the rules in force move whom they would move, as an intake that somebody looks at and
    applies.

    Returns:
        The intake's number.

    Raises:
        NoSuchRoster: There is none.
        WrongPlacing: Nobody would be moved.
    """
    roster, snapshot, here = look_at_rules(context, name)
    wanted: dict[int, dict[str, str]] = defaultdict(dict)
    for rule in here:
        if rule.rule.is_on:
            for place in rule.effect.moves.tolist():
                wanted[place][rule.rule.field] = _placed(snapshot, place, rule.rule)
    if not wanted:
        raise WrongPlacing("Everybody is where the rules put them already.")
    places = sorted(wanted)
    fields = sorted({value for values in wanted.values() for value in values})
    written = [*snapshot.definition.primary_key, *fields]
    lines = []
    for place in places:
        # A field that no rule sets for somebody is written as it is: an empty one would take the
        # value away.
        row = {
            text: snapshot.definition.by_name[text].typed(snapshot.columns[text].at(place))
            for text in written
        }
        lines.append(json.dumps(row | wanted[place], ensure_ascii=False))
    title = f"Placement rules: {len(places):,} {'person' if len(places) == 1 else 'people'}"
    data = ("\n".join(lines) + "\n").encode()
    with context.database.transaction() as connection:
        number = keep_rows(
            context,
            connection,
            roster,
            snapshot,
            MadeRows(data=data, places=places, fields=fields, title=title, kind="rules"),
            account_id,
        )
    open_intake(context, number)
    return number


def _placed(snapshot: Snapshot, place: int, rule: Rule) -> str:
    """Say what a field is to be: the rule's value, or where several stand, that one beside them."""
    separator = snapshot.definition.by_name[rule.field].several
    had = snapshot.columns[rule.field].at(place)
    return separator.join([*had.split(SEVERAL), rule.value]) if separator and had else rule.value


def _require_fields(opened: OpenKind) -> None:
    if opened.snapshot.definition.by_name[opened.kind.field].several:
        raise WrongPlacing(
            f"People are in several of these at once: change {opened.kind.title.lower()} on the"
            " roster's page."
        )
    if opened.kind.each:
        what = opened.kind.title.lower()
        raise WrongPlacing(
            f"Who is in a {what} stands in the roster {opened.roster.title}, a row for each: drop a"
            " file."
        )


def spread_people(context: Context, name: str, kind_name: str, asked: Asked) -> Spreading:
    """Spread people over the groups of their own part; nothing is done yet.

    Args:
        context: Database and clock.
        name: Of the roster.
        kind_name: Of the kind.
        asked: How.

    Raises:
        NoSuchRoster, NoSuchKind: There is none.
        WrongPlacing: Nobody is named, too many are, or a field is unknown.
    """
    opened = open_kind(context, name, kind_name, context.today())
    _require_fields(opened)
    snapshot, kind = opened.snapshot, opened.kind
    for text in (*asked.even, *asked.apart, *asked.together):
        if text not in snapshot.columns:
            raise WrongPlacing(f"There is no field “{text}” in {opened.roster.title}.")
    wanted = set(asked.records)
    chosen = np.flatnonzero([number in wanted for number in snapshot.ids.tolist()])
    if not len(chosen):
        raise WrongPlacing("Nobody who is in the roster is chosen.")
    if len(chosen) > MOST_PEOPLE:
        raise WrongPlacing(f"At most {MOST_PEOPLE:,} people are spread at once.")
    spreading = Spreading()
    parts: dict[tuple[str, ...], list[int]] = defaultdict(list)
    for place in chosen.tolist():
        part = tuple(snapshot.columns[name].at(place) or "" for name in kind.part)
        if "" in part:
            spreading.lacking.append(int(snapshot.ids[place]))
        else:
            parts[part].append(place)
    bands = bands_of(kind, snapshot, context.today())
    for part in sorted(parts):
        _spread_part(opened, part, np.array(parts[part], np.intp), asked, bands, spreading)
    return spreading


def _spread_part(
    opened: OpenKind,
    part: tuple[str, ...],
    people: NDArray[np.intp],
    asked: Asked,
    bands: NDArray[np.intp],
    spreading: Spreading,
) -> None:
    names = list(asked.groups) or _groups_of(opened, part)
    label = opened.part(part) or opened.kind.title
    if not names:
        spreading.clashes.append(f"{label}: {len(people)} people, and no group to put them into.")
        return
    if (asked.apart or asked.together) and len(people) * len(names) > MOST_PLACES:
        raise WrongPlacing(
            f"{label}: {len(people):,} people with wishes over {len(names)} groups are too many;"
            " spread fewer."
        )
    question, staying = _question(opened, part, names, people, asked, bands)
    had = [opened.snapshot.columns[opened.kind.field].at(place) for place in people.tolist()]
    for number, name in enumerate(names):
        spreading.before[(*part, name)] = int(question.fixed[number]) + had.count(name)
    answer = spread(question)
    spreading.is_least &= answer.is_least
    if answer.group is None:
        spreading.clashes += [
            f"{label}: {_say(opened, clash, names, people, staying)}" for clash in answer.clashes
        ]
        return
    for place, was, number in zip(people.tolist(), had, answer.group.tolist(), strict=True):
        if was == names[number]:
            spreading.stay += 1
            continue
        spreading.moved += was is not None
        spreading.moves[int(opened.snapshot.ids[place])] = names[number]
    for number, name in enumerate(names):
        spreading.after[(*part, name)] = int(question.fixed[number]) + int(
            (answer.group == number).sum()
        )


def _groups_of(opened: OpenKind, part: tuple[str, ...]) -> list[str]:
    """List the groups that a part has today; where it has none yet, those that its neighbours of
    the same first field have.
    """
    keys = [group.key for group in opened.found.groups]
    own = sorted({key[-1] for key in keys if key[:-1] == part})
    return own or sorted({key[-1] for key in keys if key[:1] == part[:1]})


def _question(
    opened: OpenKind,
    part: tuple[str, ...],
    names: list[str],
    people: NDArray[np.intp],
    asked: Asked,
    bands: NDArray[np.intp],
) -> tuple[Question, dict[int, NDArray[np.intp]]]:
    kind, snapshot = opened.kind, opened.snapshot
    place_of = {name: number for number, name in enumerate(names)}
    members = {
        group.key[-1]: group.members for group in opened.found.groups if group.key[:-1] == part
    }
    staying = {
        number: np.setdiff1d(members.get(text, np.zeros(0, np.intp)), people)
        for text, number in place_of.items()
    }
    now = [snapshot.columns[kind.field].at(place) for place in people.tolist()]
    current = np.array(
        [-1 if asked.anew else place_of.get(text or "", -1) for text in now], np.intp
    )
    traits, fixed_traits = _traits(snapshot, asked.even, people, staying, len(names))
    ages = [set(bands[staying[number]].tolist()) - {-1} for number in range(len(names))]
    limit = len(people) + max((len(one) for one in staying.values()), default=0)
    return (
        Question(
            current=current,
            allowed=_allowed(snapshot, asked, people, staying),
            least=np.full(len(names), kind.least if asked.sizes else 0, np.int64),
            most=np.full(len(names), kind.most if asked.sizes and kind.most else limit, np.int64),
            fixed=np.array([len(staying[number]) for number in range(len(names))], np.int64),
            bands=bands[people],
            fixed_bands=np.array([age.pop() if len(age) == 1 else -1 for age in ages], np.intp),
            one_band=asked.one_band and kind.ages is not None,
            traits=traits,
            fixed_traits=fixed_traits,
            together=tuple(
                tuple(numbers)
                for name in asked.together
                for numbers in _alike(snapshot, name, people)
            ),
            apart=tuple(
                pair
                for name in asked.apart
                for one in _alike(snapshot, name, people)
                for pair in _pairs(one)
            ),
        ),
        staying,
    )


def _allowed(
    snapshot: Snapshot, asked: Asked, people: NDArray[np.intp], staying: dict[int, NDArray[np.intp]]
) -> NDArray[np.bool_]:
    """Say who may go where: not to a group in which somebody stays whom they must be apart from."""
    allowed = np.ones((len(people), len(staying)), bool)
    for name in asked.apart:
        codes = snapshot.columns[name].codes
        for number, members in staying.items():
            there = codes[members]
            allowed[np.isin(codes[people], there[there >= 0]), number] = False
    return allowed


def _alike(snapshot: Snapshot, name: str, people: NDArray[np.intp]) -> list[list[int]]:
    """List those of some people who have the same value in a field, as places among them."""
    found: dict[int, list[int]] = defaultdict(list)
    for place, code in enumerate(snapshot.columns[name].codes[people].tolist()):
        if code >= 0:
            found[code].append(place)
    return [numbers for numbers in found.values() if len(numbers) > 1]


def _pairs(numbers: Sequence[int]) -> list[tuple[int, int]]:
    return [
        (first, second) for place, first in enumerate(numbers) for second in numbers[place + 1 :]
    ]


def _traits(
    snapshot: Snapshot,
    names: Sequence[str],
    people: NDArray[np.intp],
    staying: dict[int, NDArray[np.intp]],
    groups: int,
) -> tuple[NDArray[np.intp], tuple[NDArray[np.int64], ...]]:
    traits, fixed = [], []
    for name in names:
        column = snapshot.columns[name]
        traits.append(column.codes[people])
        counts = np.zeros((groups, len(column.values)), np.int64)
        for number, members in staying.items():
            codes = column.codes[members]
            np.add.at(counts[number], codes[codes >= 0], 1)
        fixed.append(counts)
    return (
        np.stack(traits, axis=1).astype(np.intp) if traits else np.zeros((0, 0), np.intp)
    ), tuple(fixed)


def _say(
    opened: OpenKind,
    clash: Clash,
    names: list[str],
    people: NDArray[np.intp],
    staying: dict[int, NDArray[np.intp]],
) -> str:
    """Word a clash: which condition cannot be kept, by how many people, and what would help."""
    kind = opened.kind
    group = opened.label(names[clash.group]) if clash.group is not None else ""
    who = " and ".join(opened.snapshot.keys(people[list(clash.people)][:4])) if clash.people else ""
    total = len(people) + sum(len(one) for one in staying.values())
    words: dict[str, Any] = {
        "most": (
            f"{total} people, and {len(names)} groups of at most {kind.most} hold"
            f" {len(names) * kind.most}: {clash.by} too many for {group}. Let another group in, or"
            " let go of the most"
        ),
        "least": (
            f"{group} stays {clash.by} under the least of {kind.least}. Leave it out, or let go of"
            " the least"
        ),
        "place": f"{who} may go nowhere: somebody they are to be apart from is in every group",
        "apart": f"{who} cannot be kept apart",
        "together": f"{who} are to stay together and cannot, by age or by group",
        "band": (
            f"{group} would have people of {clash.by + 1} bands of age. Let another group in, or"
            " let go of the ages"
        ),
        "time": (
            "no arrangement was found in the time that there is. Spread fewer people at once, or"
            " let go of a condition"
        ),
    }
    return f"{words[clash.kind]}."
