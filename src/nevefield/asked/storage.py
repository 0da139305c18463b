"""What the protocol reads and writes: what is held, with proposals over it; a write is kept as a
proposal.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, cast

from scim2_models import (
    ForbiddenException,
    NotFoundException,
    PreconditionFailedException,
    UniquenessException,
)
from scim2_models.context import Context as Occasion
from scim2_server.storage import ScimStorage, SearchPage

from nevefield.asked.filtering import compile_filter, equal_to
from nevefield.asked.opening import Document, load_asked, number_of, resource_of
from nevefield.core.passing.incoming import is_writable
from nevefield.passing_on.keeping import require_destination
from nevefield.passing_on.urns import USER
from nevefield.store import passing as passing_store
from nevefield.store import proposed as store

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Mapping, Sequence

    from scim2_models import Resource, ResourceType, ResponseParameters, SearchRequest

    from nevefield.asked.opening import Asked
    from nevefield.context import Context
    from nevefield.store.connection import Connection
    from nevefield.store.proposed import Proposed

__all__ = ["Shelf"]

MOST_EXTERNAL = 200  # letters of what they know something by
MOST_OPEN = 5_000  # proposals of which nobody decided yet


class Shelf(ScimStorage):
    """What a destination reads and writes, for one request."""

    def __init__(self, context: Context, asked: Asked) -> None:
        self._context = context
        self._asked = asked
        self._of: Sequence[Proposed] | None = None
        self._by_id: dict[str, Proposed] = {}

    # -- reading

    def get(
        self,
        resource_type: ResourceType,
        resource_id: str,
        *,
        response_parameters: ResponseParameters[Any] | None = None,
    ) -> Resource[Any]:
        """Give a resource."""
        kind = _kind(resource_type)
        over = self._over()
        if (one := over.get(resource_id)) is not None and one.kind == kind:
            if one.is_gone:
                raise _not_found(resource_id)
            return self._model(resource_type, resource_of(one, self._asked.became))
        found = self._kept(kind).get(resource_id)
        if found is None:
            raise _not_found(resource_id)
        if kind == "Group" and not _wants(response_parameters, "members"):
            found = {name: value for name, value in found.items() if name != "members"}
        return self._model(resource_type, found)

    def search(
        self,
        resource_types: list[ResourceType],
        search_request: SearchRequest[Any],
        *,
        position: Any = None,
    ) -> SearchPage:
        """Give a page of what is asked for, and how much there is."""
        start = search_request.start_index_0 or 0
        stop = None if search_request.count is None else start + search_request.count
        if search_request.filter is None and search_request.sort_by is None:
            # those alone are made that are given
            numbers = [(one, name) for one in resource_types for name in self._numbers(_kind(one))]
            page = [(one, self._document(_kind(one), name)) for one, name in numbers[start:stop]]
            return self._page(len(numbers), page, search_request)
        found: list[tuple[ResourceType, Document]] = []
        node = search_request.filter.ast if search_request.filter else None
        test = compile_filter(node, _is_exact) if node else None
        equal = equal_to(node)
        for resource_type in resource_types:
            for one in self._candidates(_kind(resource_type), equal):
                if test is None or test(one):
                    found.append((resource_type, one))
        if search_request.sort_by is not None:
            found = _sort(found, search_request, _is_exact)
        return self._page(len(found), found[start:stop], search_request)

    def _page(
        self,
        total: int,
        page: Sequence[tuple[ResourceType, Document]],
        asked: SearchRequest[Any],
    ) -> SearchPage:
        if not _wants(asked, "members"):
            # of large groups they are most of the work
            page = [(kind, {k: v for k, v in one.items() if k != "members"}) for kind, one in page]
        return SearchPage(total, [self._model(kind, one) for kind, one in page])

    def _numbers(self, kind: str) -> list[str]:
        """List by what they know everything of a kind, in the order in which it is given."""
        over = self._over()
        kept = [number for number in self._kept(kind) if number not in over]
        return [*kept, *(n for n, one in over.items() if one.kind == kind and not one.is_gone)]

    def _document(self, kind: str, number: str) -> Document:
        one = self._over().get(number)
        return self._kept(kind)[number] if one is None else resource_of(one, self._asked.became)

    def state_of(self, number: str) -> str:
        """Say what became of what was proposed; "" where nothing is."""
        one = self._over().get(number)
        if one is None:
            return ""
        return "waiting" if one.intake_id is None else f"on the desk; intake={one.intake_id}"

    def _candidates(self, kind: str, equal: tuple[str, str] | None) -> Iterator[Document]:
        """List what may be meant, each with by what they know it themselves."""
        externals = self._asked.externals
        if equal is not None and equal[0].casefold() == "externalid" and externals:
            equal = None  # that is theirs to say, and in no index
        for one in self._plain_candidates(kind, equal):
            external = externals.get(one["id"])
            yield one if external is None else {**one, "externalId": external}

    def _plain_candidates(self, kind: str, equal: tuple[str, str] | None) -> Iterator[Document]:
        over, kept = self._over(), self._kept(kind)
        numbers: Sequence[str] | Mapping[str, Document] = kept
        if equal is not None and self._is_indexed(kind, equal[0].casefold()):
            numbers = self._index(kind, equal[0].casefold()).get(equal[1].casefold(), [])
        for number in numbers:
            if number not in over:
                yield kept[number]
        for one in over.values():
            if one.kind == kind and not one.is_gone and _may_be(one, equal):
                yield resource_of(one, self._asked.became)

    def _is_indexed(self, kind: str, name: str) -> bool:
        """Tell whether an attribute is one that the layout fills as it is, or a group's name."""
        if kind == "Group":
            return name == "displayname"
        shares = self._asked.destination.shares
        return name in {put.to.casefold() for share in shares for put in share.puts}

    def _index(self, kind: str, name: str) -> dict[str, list[str]]:
        """Find by a plain attribute, without regard to large and small letters."""
        indexes = self._asked.held.indexes
        key = f"{kind} {name}"
        if key not in indexes:
            index: dict[str, list[str]] = {}
            held = self._asked.held
            pairs = (
                held.people.values_of(name)
                if kind == "User"
                else ((number, one["displayName"]) for number, one in held.groups.items())
            )
            for number, text in pairs:
                index.setdefault(text.casefold(), []).append(number)
            indexes[key] = index
        return indexes[key]

    def _kept(self, kind: str) -> Mapping[str, Document]:
        return self._asked.held.people if kind == "User" else self._asked.held.groups

    def _over(self) -> dict[str, Proposed]:
        """List what they proposed, by what they know it by."""
        if self._of is not self._asked.proposed:
            self._of, became = self._asked.proposed, self._asked.became
            self._by_id = {number_of(one, became): one for one in self._of}
        return self._by_id

    def _model(self, resource_type: ResourceType, one: Document) -> Resource[Any]:
        model = self._asked.provider.model_for(resource_type)
        if model is None:
            raise LookupError(resource_type.name)
        external = self._asked.externals.get(one["id"])
        if external is not None:
            one = {**one, "externalId": external}
        return cast("Resource[Any]", model.model_validate(one))

    # -- writing

    def create(self, resource_type: ResourceType, resource: Resource[Any]) -> Resource[Any]:
        """Keep somebody new, or a group, as a proposal."""
        kind, content = _kind(resource_type), _write(resource)

        def make(connection: Connection, asked: Asked) -> int:
            self._refuse_taken(kind, content, "")
            if len(asked.proposed) >= MOST_OPEN:
                raise ForbiddenException(
                    detail=f"{MOST_OPEN:,} proposals wait already; somebody has to decide of them"
                    " first."
                )
            external = str(content.pop("externalId", "") or "")
            new = store.NewProposed(asked.opened.row.id, kind, self._context.now(), content)
            number = store.insert_proposed(connection, new)
            if external:
                store.put_external(
                    connection, asked.opened.row.id, f"p{number}", external[:MOST_EXTERNAL], None
                )
            return number

        number = self._alter(make)
        return self.get(resource_type, f"p{number}")

    def update(
        self,
        resource_type: ResourceType,
        resource: Resource[Any],
        *,
        expected_version: str | None = None,
    ) -> Resource[Any]:
        """Keep as a proposal what somebody, or a group, is to become."""
        kind, content, number = _kind(resource_type), _write(resource), str(resource.id)

        def change(connection: Connection, asked: Asked) -> int:
            current = self.get(resource_type, number)
            _see_version(current, expected_version)
            self._refuse_taken(kind, content, number)
            if kind == "Group" and number in asked.held.groups:
                known = asked.held.groups[number]["displayName"]
                if content.get("displayName") != known:
                    raise ForbiddenException(
                        detail="What a group is called is for whoever keeps the roster to say."
                    )
            self._put_external(connection, asked, number, content)
            before = _write(current)
            before.pop("externalId", None)
            if content == before:
                return 0  # by what they know it themselves is theirs, and nothing to decide of
            return self._put(connection, asked, kind, number, content, is_gone=False)

        self._alter(change)
        return self.get(resource_type, number)

    def delete(
        self,
        resource_type: ResourceType,
        resource_id: str,
        *,
        expected_version: str | None = None,
    ) -> None:
        """Take back what was proposed; of somebody who is known, propose that they are switched
        off.
        """
        kind = _kind(resource_type)

        def drop(connection: Connection, asked: Asked) -> int:
            current = self.get(resource_type, resource_id)
            _see_version(current, expected_version)
            over = self._over().get(resource_id)
            if over is not None and over.is_new and over.intake_id is None:
                store.withdraw(connection, over.id)
                return over.id
            if kind == "Group" or not self._can_switch_off(asked):
                raise ForbiddenException(
                    detail="Who leaves, and which groups there are, is for whoever keeps the roster"
                    " to say."
                )
            content = _write(current) | {"active": False}
            content.pop("externalId", None)
            return self._put(connection, asked, kind, resource_id, content, is_gone=True)

        self._alter(drop)

    @staticmethod
    def _can_switch_off(asked: Asked) -> bool:
        return any(
            put.to.casefold() == "active" and is_writable(put)
            for share in asked.destination.shares
            for put in share.puts
        )

    def _put(
        self,
        connection: Connection,
        asked: Asked,
        kind: str,
        number: str,
        content: Document,
        *,
        is_gone: bool,
    ) -> int:
        over = self._over().get(number)
        now = self._context.now()
        if over is not None:
            store.put_proposed(connection, over.id, content, now, is_gone=is_gone)
            return over.id
        record = asked.held.records.get(number) if kind == "User" else None
        name = asked.held.groups[number]["displayName"] if kind == "Group" else ""
        new = store.NewProposed(
            asked.opened.row.id,
            kind,
            now,
            content,
            record_id=record,
            group_name=name,
            is_gone=is_gone,
        )
        return store.insert_proposed(connection, new)

    def _put_external(
        self, connection: Connection, asked: Asked, number: str, content: Document
    ) -> None:
        external = str(content.pop("externalId", "") or "")[:MOST_EXTERNAL]
        if external != asked.externals.get(number, ""):
            record = asked.held.records.get(number)
            store.put_external(connection, asked.opened.row.id, number, external, record)

    def _refuse_taken(self, kind: str, content: Mapping[str, Any], number: str) -> None:
        name = "userName" if kind == "User" else "displayName"
        wanted = str(content.get(name) or "").casefold()
        if not wanted:
            return
        for one in self._candidates(kind, (name, wanted)):
            if one["id"] != number and str(one.get(name) or "").casefold() == wanted:
                raise UniquenessException(detail=f"{name} “{content[name]}” is taken.")

    def _alter(self, do: Callable[[Connection, Asked], int]) -> int:
        """Write, on what is there now: two who write at once do it one after the other."""
        name = self._asked.destination.name
        with self._context.database.transaction() as connection:
            passing_store.lock(connection, self._asked.opened.row.id)
            self._asked = load_asked(connection, require_destination(connection, name))
            number = do(connection, self._asked)
            written = store.list_proposed(connection, self._asked.opened.row.id, [number])
            externals = store.list_externals(connection, self._asked.opened.row.id)
        others = [one for one in self._asked.proposed if one.id != number]
        self._asked = replace(self._asked, proposed=[*others, *written], externals=externals)
        return number


def _is_exact(path: str) -> bool:
    """Tell in which attributes large and small letters differ: in those that say who it is."""
    return path in ("id", "externalid", "meta.version", "members.value", "groups.value")


def _wants(asked: ResponseParameters[Any] | None, name: str) -> bool:
    """Tell whether an attribute is to be in the answer."""
    if asked is None:
        return True

    def has(paths: Sequence[Any]) -> bool:
        plain = [str(path).rsplit(":", 1)[-1].casefold().split(".")[0] for path in paths]
        return name in plain

    if asked.attributes:
        return has(asked.attributes)
    return not has([path for path in asked.excluded_attributes or () if "." not in str(path)])


def _may_be(one: Proposed, equal: tuple[str, str] | None) -> bool:
    """Tell quickly of most that they are not what is looked for."""
    if equal is None:
        return True
    name, wanted = equal[0].casefold(), equal[1].casefold()
    value = next((v for k, v in one.content.items() if k.casefold() == name), None)
    return not isinstance(value, str) or value.casefold() == wanted


def _kind(resource_type: ResourceType) -> str:
    return "User" if str(resource_type.schema_) == USER else "Group"


def _write(resource: Resource[Any]) -> Document:
    """Write a resource as it is kept: without what is ours to say."""
    written: Document = resource.model_dump(scim_ctx=Occasion.DEFAULT)
    for name in ("meta", "id"):
        written.pop(name, None)
    return written


def _see_version(current: Resource[Any], expected: str | None) -> None:
    if expected is not None and current.meta is not None and current.meta.version != expected:
        raise PreconditionFailedException


def _not_found(resource_id: str) -> NotFoundException:
    return NotFoundException(detail=f"There is nothing by “{resource_id}” here.")


def _sort(
    found: list[tuple[ResourceType, Document]],
    request: SearchRequest[Any],
    is_exact: Callable[[str], bool],
) -> list[tuple[ResourceType, Document]]:
    """Sort by the attribute that is asked for; who has none comes last (RFC 7644, 3.4.2.3)."""
    path = str(request.sort_by)
    *_, plain = path.rpartition("urn:")[2].rpartition(":")
    names = plain.split(".")

    def key(pair: tuple[ResourceType, Document]) -> tuple[bool, str]:
        value: Any = pair[1]
        for name in names:
            if isinstance(value, list):
                value = next(
                    (one for one in value if one.get("primary")), value[0] if value else {}
                )
            value = (
                next((v for k, v in value.items() if k.casefold() == name.casefold()), None)
                if isinstance(value, dict)
                else None
            )
        if isinstance(value, list):
            value = value[0].get("value") if value and isinstance(value[0], dict) else None
        text = "" if value is None else str(value)
        return not text, text if is_exact(plain.casefold()) else text.casefold()

    down = request.sort_order == type(request).SortOrder.descending
    have = [one for one in found if not key(one)[0]]
    lack = [one for one in found if key(one)[0]]
    return sorted(have, key=key, reverse=down) + lack
