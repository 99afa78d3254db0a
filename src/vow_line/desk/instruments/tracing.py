"""Outlines traced from pictures."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QProgressBar, QPushButton, QWidget

from ...core import steps
from ...core.errors import VowLineError
from ...core.measure.traced import Drawn, DrawnWith, within_line
from ...core.quantity import SHEETS_MM, Sheet, write
from ...core.reckoning import count, length
from ...core.ring import sides
from ...core.texts import said, several, tell
from ...core.typed import read
from ..look.asking import choose
from ..look.ink import INKS, type_
from ..look.words import Words
from ..session import Session, Task, Tell
from .gap import ask_gaps
from .outline import ask_what_drew

CHECK_MM = 100.0  # the line on the card
SUFFIXES = "*.png *.jpg *.jpeg *.tif *.tiff *.bmp"


class TracingBar(QWidget):
    """Says how far the tracing is, and stops it."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        self.task: Task | None = None
        self.says = Words(tell("Tracing the picture"), self)
        self.says.setFont(type_(15))
        self.bar = QProgressBar(self)
        self.bar.setRange(0, 100)
        self.bar.setAccessibleName(tell("How far the tracing is"))
        self.halt = QPushButton(tell("Stop"), self)
        self.halt.clicked.connect(self.stop)
        row = QHBoxLayout(self)
        row.setContentsMargins(26, 6, 26, 6)
        for part in (self.says, self.bar, self.halt):
            row.addWidget(part)
        self.hide()

    def ask(self) -> None:
        """Ask for a picture and what it was taken on, and trace it."""
        chosen, _ = QFileDialog.getOpenFileName(
            self, tell("A picture of it on a coloured sheet"), "", tell("Pictures ({kinds})", kinds=SUFFIXES)
        )
        if not chosen:
            return
        card = tell("the printed card")
        says = tell(
            "On a coloured sheet, of a colour that is not on the tool, shadows do not matter.\n"
            "On white paper only dark tools are traced.\n\nIt lies on a sheet of"
        )
        sheet, yes = QInputDialog.getItem(self, tell("The paper under it"), says, [*SHEETS_MM, card], editable=False)
        line_mm = self._ask_card() if yes and sheet == card else CHECK_MM
        drew = ask_what_drew(self, tell("The picture shows")) if yes and line_mm else None
        high_mm = self._ask_high() if drew == "nothing" else 0.0
        if drew is not None and high_mm is not None and line_mm:
            self.trace(Path(chosen), "A4" if sheet == card else sheet, drew, high_mm, line_mm / CHECK_MM)  # type: ignore[arg-type]

    def _ask_high(self) -> float | None:
        """How high above the paper its outline lies; None when that was not said."""
        return self._ask_length(
            tell("How high it lies"),
            tell("How far above the paper its outline lies: a blade 0, a round handle half its thickness"), 0.0,
        )  # fmt: skip

    def _ask_card(self) -> float | None:
        """How long the check line of the card came out; None when that was not said, or no printer is so far off."""
        says = tell("The line on the card, 100 mm when it is printed at 100 %, measures")
        line_mm = self._ask_length(tell("The card"), says, CHECK_MM)
        if line_mm is not None and not 0.5 * CHECK_MM <= line_mm <= 2 * CHECK_MM:
            says = tell("No card comes out so far from its size. Measure the line between its two marks.")
            self.session.say(says, wrong=True)
            return None
        return line_mm

    def _ask_length(self, title: str, says: str, usual_mm: float) -> float | None:
        text, yes = QInputDialog.getText(self, title, says, text=write(length(usual_mm), self.session.units))
        if not yes:
            return None
        try:
            return read("length", text, self.session.units)
        except VowLineError as error:
            self.session.say(str(error), wrong=True)
            return None

    def trace(self, path: Path, sheet: Sheet = "A4", drew: DrawnWith = "nothing", high_mm: float = 0.0,
              card_share: float = 1.0, sure: bool = False, whole: bool = False) -> None:  # fmt: skip
        """Trace a picture of the thing, or of a line drawn round it; the card under it came out at a share of its size. The
        maker is `sure` which sheet it is, or that it is one `whole` thing.
        """
        if self.task is not None:
            self.session.say(tell("A picture is being traced already."))
            return

        many = type(self.session.job.thing).many

        def work(tell: Tell) -> object:
            from ...files.picture import read_picture
            from ...instruments.tracing import MOST, MayTouch, WhichSheet, trace_all

            try:
                return trace_all(read_picture(path), sheet, tell.progress, high_mm=high_mm, card_share=card_share, sure=sure,
                                 whole=whole, most=MOST if many else 1)  # fmt: skip
            except (MayTouch, WhichSheet) as asked:
                return asked

        def ended() -> None:
            self.task = None
            self.hide()
            for found in given:
                if not isinstance(found, VowLineError):
                    self._done(found, drew)
                elif (sheets := getattr(found, "sheets", None)) is None:
                    if choose(self, tell("One thing or two"), str(found), tell("It is &one thing"), tell("&Stop")) == 0:
                        self.trace(path, sheet, drew, high_mm, card_share, sure, whole=True)
                else:
                    which = choose(
                        self, tell("The paper under it"), str(found), *(f"&{s}" for s in sheets), tell("&Stop")
                    )
                    if which is not None and which < len(sheets):
                        self.trace(path, sheets[which], drew, high_mm, card_share, sure=True, whole=whole)

        given: list[object] = []
        self.bar.setValue(0)
        self.show()
        self.task = self.session.worker.start(
            tell("tracing the picture"), work, done=given.append,
            failed=lambda says: self.session.say(says, wrong=True),
            progress=lambda share, _: self.bar.setValue(round(100 * share)),
        )  # fmt: skip
        self.task.ended.connect(ended)

    def stop(self) -> None:
        """Stop at the next step."""
        if self.task is not None:
            self.task.stop()

    @property
    def busy(self) -> bool:
        """Whether a picture is being traced."""
        return self.task is not None

    def _done(self, found: object, drew: DrawnWith) -> None:
        if not isinstance(found, tuple):
            self.session.say(tell("The tracing was stopped; the outline is as it was."))
            return
        rings = [ask_gaps(self, self.session.units, INKS[self.session.preferences.ink], t.outline) for t in found]
        if any(ring is None for ring in rings):
            self.session.say(
                tell(
                    "The outline is as it was. Open the blades wider, or measure how deep the gap goes, and take it again."
                )
            )
            return
        taken = [
            Drawn(within_line(ring, drew), drew, traced.holes, traced.marks)
            for ring, traced in zip(rings, found, strict=True) if ring is not None
        ]  # fmt: skip
        if not self._is_so(taken, found[0].coloured):
            self.session.say(
                tell("The outline is as it was. Take it again on a sheet of a strong colour that is not on the tool, nothing "
                     "else on it, and say how high it lies.")
            )  # fmt: skip
            return
        if not self.session.do(tell("trace the outline"), lambda j: steps.take_outlines(j, drawn=taken)):
            return
        first = found[0]
        by = said("the card") if first.by_card else said("the sheet")
        if type(self.session.job.thing).many:
            says = several("Traced, {n} outline, its scale from {scale}: check its height by tape, and its corners.",
                           "Traced, {n} outlines, their scale from {scale}: check their heights by tape, and their corners.",
                           n=count(len(found)), scale=by)  # fmt: skip
        else:
            says = said(
                "Traced, {n} points, its scale from {scale}. What lies {high} higher is seen up to {off} too far out. Check it "
                "by one length measured across, and put the ends of its edge right.",
                n=len(first.outline), scale=by, high=length(10.0), off=length(10.0 * first.astray),
            )  # fmt: skip
        self.session.say(says.write(self.session.units))

    def _is_so(self, taken: list[Drawn], coloured: bool) -> bool:
        """Whether the sizes traced are what the maker's tape says: what is as bright as the paper, or of its colour, is not
        seen on it, and two things that touch are one.
        """
        sizes = []
        for drawn in taken:
            long, wide = (length(mm) for mm in sides(drawn.ring))
            sizes.append(said("{long} at its longest, {wide} across", long=long, wide=wide).write(self.session.units))
        lost = tell("What has the sheet's own colour is not seen on it.") if coloured else tell(
            "What is as bright as the paper is not seen on it.")  # fmt: skip
        says = "\n".join((tell("Traced:"), *sizes, "", lost, tell("Measure it. Is it so, within a millimetre or two?")))
        return choose(self, tell("Its size"), says, tell("It is &so"), tell("&No")) == 0
