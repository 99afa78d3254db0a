"""One kind of piece for several wearers or in several sizes: what is drafted for each, put together under ids of their own."""

from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from itertools import chain
from typing import Any

from ..memory import remembered
from ..texts import Said, listed, said
from .assembly import Assembly
from .drafted import Draft, For
from .ids import own
from .joins import Seat
from .pieces import Piece
from .repeat import same

_IDS = {"id", "piece", "pieces", "shell", "join", "of", "cover", "leaf", "seam", "gussets"}
_FIRST = {"through", "rows", "tab", "billet", "ends", "hangs", "on"}  # tuples that begin with a piece's id


def together(each: Sequence[For]) -> Draft:
    """The first draft with the assemblies of all of them, their titles with a name."""
    all_of_them = [_own(one.draft, one.number, one.name) for one in each]
    parts = {f.name: tuple(chain.from_iterable(getattr(a, f.name) for a in all_of_them)) for f in fields(Assembly)}
    return replace(each[0].draft, assembly=Assembly(**parts), each=tuple(each))


@remembered("wearer")
def _own(draft: Draft, number: int, name: Said) -> Assembly:
    """The assembly of a draft under ids of its own, its titles with a name."""

    def titled(what: Any) -> Any:
        title = getattr(what, "title", None)
        return replace(what, title=said("{piece}, {name}", piece=title, name=name)) if isinstance(title, Said) else what

    parts: dict[str, tuple[Any, ...]] = {}
    for field in fields(Assembly):
        there = getattr(draft.assembly, field.name)
        parts[field.name] = tuple(titled(_renamed(x, number)) if number > 1 else titled(x) for x in there)
    return Assembly(**parts)


def _renamed(part: Any, number: int) -> Any:
    """A part of an assembly, or a layer of one, with the ids in it made its own."""
    new: dict[str, Any] = {}
    for field in fields(part):
        value = getattr(part, field.name)
        if field.name == "layers":
            new[field.name] = tuple(_renamed(layer, number) for layer in value)
        elif field.name == "holds" and isinstance(value, str):
            new[field.name] = value if value in ("", "body") else own(value, number)
        elif field.name in _IDS and not (field.name == "id" and isinstance(part, Seat)):  # a seat's is its piece's own
            new[field.name] = tuple(own(v, number) for v in value) if isinstance(value, tuple) else own(value, number)
        elif field.name in _FIRST and isinstance(value, tuple):
            new[field.name] = _first(value, number)
    return replace(part, **new)


def _first(value: tuple[Any, ...], number: int) -> tuple[Any, ...]:
    """A tuple that begins with an id, or one of such tuples."""
    if value and isinstance(value[0], str):
        return own(value[0], number), *value[1:]
    return tuple(_first(v, number) for v in value)


def patterns(draft: Draft) -> tuple[Piece, ...]:
    """The pieces of which a pattern is wanted: those that are the same for several wearers once, counted for all of them."""
    return tuple({p.id: p for p in patterns_of(draft).values()}.values())


@remembered("stage")
def patterns_of(draft: Draft) -> Mapping[str, Piece]:
    """The pattern that each piece is cut by, by the piece's id."""
    if not draft.each:
        return {p.id: p for p in draft.pieces}
    groups: dict[str, list[list[tuple[For, Piece]]]] = {}
    for one in draft.each:
        for piece in one.draft.pieces:
            mine = draft.piece(own(piece.id, one.number))
            there = groups.setdefault(piece.id, [])
            group = next((g for g in there if same(draft.assembly, draft.assembly, g[0][1].id, mine.id)), None)
            if group is None:
                there.append([(one, mine)])
            else:
                group.append((one, mine))
    found = {}
    for id, of_one in groups.items():
        for group in of_one:
            (first, piece), whose = group[0], [one for one, _ in group]
            title = first.draft.piece(id).title
            if len(whose) < len(draft.each):
                title = said("{piece}, {name}", piece=title, name=listed([one.name for one in whose]))
            pattern = replace(piece, title=title, count=sum(p.count for _, p in group))
            found.update({p.id: pattern for _, p in group})
    return found
