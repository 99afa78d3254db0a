"""Whether the steps make all of the assembly: what no step works on, what nothing holds, what comes before what it needs."""

from collections.abc import Iterable, Iterator, Sequence

from ..draft.assembly import Assembly
from ..draft.ids import number_of, own
from ..draft.pieces import SEEN_TO, Edge, Piece
from ..finding import Finding
from ..proof import Checked
from ..reckoning import count
from ..texts import Said, said
from .step import SHOWN_AT, Part, Step


def complete(assembly: Assembly, steps: Sequence[Step], wet: bool) -> tuple[Checked, tuple[Finding, ...]]:
    """The check of the steps, and what does not hold: asked of the pieces and joins, not of what made the steps."""
    parts = dict(_parts(assembly))
    if wet:
        parts |= {(own("form", n),): said("the forming") for n in {number_of(p.id) for p in assembly.pieces}}
    used = {part for step in steps for part in step.uses}
    faults = [*_unused(parts, used), *_loose(assembly), *_out_of_order(steps), *_unseen(steps, wet)]
    worked = count(len(parts.keys() & used))
    text = said(
        "{k} of {n} parts and joins worked on, in {s} steps", k=worked, n=count(len(parts)), s=count(len(steps))
    )
    return Checked("steps", said("Steps"), not faults, text, worked, tuple(f.at for f in faults)), tuple(faults)


def _parts(assembly: Assembly) -> Iterator[tuple[Part, Said]]:
    """All that must be worked on, each with its name."""
    for piece in assembly.pieces:
        yield ("cut", piece.id), said("the {piece}", piece=piece.title)
        for kind, marked in (("punch", piece.punches), ("skive", piece.skives)):
            for one in marked:
                yield (kind, piece.id, one.id), said("the {one} of the {piece}", one=one.title, piece=piece.title)
        for n in range(len(piece.slots)):
            yield ("slot", piece.id, str(n)), said("slot {n} of the {piece}", n=n + 1, piece=piece.title)
        for n, craft in enumerate(piece.crafts):
            yield ("craft", piece.id, str(n)), craft.name
        for edge in piece.edges:
            if not _closed_up(assembly, piece, edge):
                yield ("edge", piece.id, edge.id), said("the {edge} of the {piece}", edge=edge.title, piece=piece.title)
    for join in assembly.joins:
        if join.shape != "riveted":
            yield ("join", join.id), said("the {join}", join=join.title)
        if join.sewing is not None:
            yield ("holes", join.id), said("the holes of the {join}", join=join.title)
    for shell in assembly.shells:
        if any(join.turned for join in assembly.closes(shell)):
            yield ("out", shell.id), said("the {shell}, turned right side out", shell=shell.title)
    closing = {join.id for shell in assembly.shells for join in assembly.closes(shell)}
    for join in assembly.joins:
        if join.turned and join.id not in closing:
            yield ("open", join.id), said("the {join}, opened", join=join.title)
    for turn in assembly.turns:
        piece = assembly.piece(turn.piece)
        yield ("turn", turn.piece, turn.join), said("the turn of the {piece}", piece=piece.title)
    for fastener in assembly.fasteners:
        yield ("fastener", fastener.id), said("the {fastener}", fastener=fastener.title)


def _closed_up(assembly: Assembly, piece: Piece, edge: Edge) -> bool:
    """Whether no one sees an edge: it is not of leather, lies in a turn, a cut-out or a binding, or abuts another."""
    if piece.stock.sort != "leather" or edge.open in SEEN_TO or edge.bound or edge.grown:
        return True
    edges = {(p.id, e.id) for p in assembly.pieces for e in p.edges}
    return any(
        (join.shape in ("butt", "scarf") or join.turned)
        and any((x.piece, x.part) == (piece.id, edge.id) for x in join.layers)
        and all((x.piece, x.part) in edges for x in join.layers)
        for join in assembly.joins
    )


def _unused(parts: dict[Part, Said], used: set[Part]) -> Iterator[Finding]:
    for part, name in parts.items():
        if part not in used:
            yield _hold("step-missing", said("No step works on {name}.", name=name), "/".join(part))


def _loose(assembly: Assembly) -> Iterator[Finding]:
    """Pieces that nothing holds, where there is more than one; riveted joins through which nothing goes."""
    held = {x.piece for join in assembly.joins for x in join.layers}
    for piece in assembly.pieces:
        through = any(piece.id == p for f in assembly.fasteners for p, _ in f.through)
        others = any(p is not piece and number_of(p.id) == number_of(piece.id) for p in assembly.pieces)
        if others and piece.id not in held and not through:
            yield _hold("piece-loose", said("Nothing holds the {name}.", name=piece.title), piece.id)
    for join in assembly.joins:
        pieces = {x.piece for x in join.layers}
        if join.shape == "riveted" and not any(pieces >= {p for p, _ in f.through} for f in assembly.fasteners):
            yield _hold("step-missing", said("Nothing goes through the {name}.", name=join.title), join.id)


def _out_of_order(steps: Sequence[Step]) -> Iterator[Finding]:
    before = set[str]()
    for step in steps:
        if not before.issuperset(step.needs):
            yield _hold("step-early", said("“{name}” comes before what it needs.", name=step.name), step.id)
        if step.id in before:
            yield _hold("step-twice", said("“{name}” is there twice.", name=step.name), step.id)
        before.add(step.id)


def _unseen(steps: Iterable[Step], wet: bool) -> Iterator[Finding]:
    """Steps at a station where no one would look for them: there is one for each, and nothing to form where it stays dry."""
    for step in steps:
        if step.station not in SHOWN_AT or (step.station == "form" and not wet):
            yield _hold("step-nowhere", said("“{name}” is at no station that shows it.", name=step.name), step.id)


def _hold(code: str, says: Said, at: str) -> Finding:
    return Finding("hold", code, "vow", says, at)
