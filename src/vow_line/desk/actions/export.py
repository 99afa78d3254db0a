"""The card for pictures, written to be printed."""

from pathlib import Path

from PySide6.QtWidgets import QWidget

from ...core.texts import tell
from ..look.asking import ask_where
from ..session import Session


def print_card(session: Session, parent: QWidget, path: Path | None = None) -> None:
    """Write the card for pictures as a PDF, to be printed at true size."""
    from ...files.card import write_card

    if path is None:
        path = ask_where(parent, tell("The card, as a PDF"), Path("card.pdf"), "PDF (*.pdf)", ".pdf")
        if path is None:
            return
    to, sheet = path, session.preferences.sheet
    written = tell("Written: {path}. Print it at 100 %, and measure its check line before you trust it.", path=str(to))
    session.worker.start(
        tell("writing the card"),
        lambda _: write_card(to, sheet),
        done=lambda _: session.say(written),
        failed=lambda says: session.say(says, wrong=True),
    )
