"""Before printing: the pages as they will be, which piece is on which, which are worth printing; the check length."""

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QImage, QPageLayout, QPageSize, QPainter, QPixmap
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.errors import VowLineError
from ...core.quantity import SHEETS_MM, PrintSheet
from ...core.reckoning import count
from ...core.texts import listed, several, tell
from ...core.typed import read
from ...files.pdf import Paper, paint_page, paint_pages, paper_of
from ...files.print_marks import printed_true
from ..look.ink import BOLD, SEMI, type_
from ..look.words import Words
from ..session import Session, Tell
from .exporting import NO_PATTERN
from .working import WorkingDialog

PX_MM = 1.05  # of a page in the list
SHARP = 2  # times as fine as that it is painted, for a screen of many dots
PAGE = Qt.ItemDataRole.UserRole


class PrintPreview(WorkingDialog):
    """The pages, ticked where they are to be printed; laid out and painted by the worker."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(session, parent, tell("Print the patterns"))
        self.resize(980, 680)
        self.paper: Paper | None = None
        self._printing = False
        self.sheet = QComboBox(self)
        self.sheet.setAccessibleName(tell("Paper"))
        self.sheet.setFont(type_(16, SEMI))
        for name in SHEETS_MM:
            self.sheet.addItem(name, name)
        self.sheet.setCurrentText(session.preferences.sheet)
        self.says = Words(self)
        self.says.setFont(type_(16))
        self.says.setWordWrap(True)
        on = Words(tell("on"), self)
        on.setFont(type_(16))
        top = QHBoxLayout()
        top.addWidget(on)
        top.addWidget(self.sheet)
        top.addSpacing(14)
        top.addWidget(self.says, 1)
        self.list = QListWidget(self)
        self.list.setObjectName("pages")
        self.list.setAccessibleName(tell("Pages; Space ticks or unticks one"))
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setWordWrap(True)
        self.list.setSpacing(14)
        self.list.setFont(type_(14))
        self.list.itemChanged.connect(lambda _: self._enable())
        check = Words(tell("On the first page, the line of 100 mm measures"), self)
        check.setFont(type_(15))
        self.measured = QLineEdit(self)
        self.measured.setObjectName("measured")
        self.measured.setAccessibleName(check.text())
        self.measured.setFont(type_(16, BOLD))
        self.measured.setFixedWidth(110)
        self.measured.editingFinished.connect(self._check)
        self.true = Words(tell("Print one page, and measure it before you cut."), self)
        self.true.setObjectName("says")
        self.true.setFont(type_(15))
        self.true.setWordWrap(True)
        checked = QHBoxLayout()
        checked.addWidget(check)
        checked.addWidget(self.measured)
        checked.addWidget(self.true, 1)
        self.print_button, close = QPushButton(self), QPushButton(tell("Close"), self)
        self.print_button.setObjectName("print")
        close.setObjectName("close")
        self.print_button.clicked.connect(self.print_)
        close.clicked.connect(self.reject)
        under = QVBoxLayout(self)
        under.setContentsMargins(26, 20, 26, 18)
        under.setSpacing(12)
        under.addLayout(top)
        under.addWidget(self.list, 1)
        under.addLayout(checked)
        under.addLayout(self.row_of(close, self.print_button))
        self.sheet.currentIndexChanged.connect(self._another_sheet)
        self._lay_out()

    def _another_sheet(self) -> None:
        self.session.prefer(sheet=self.sheet.currentData())
        self._lay_out()

    def _lay_out(self) -> None:
        """Lay the pieces out on pages, off the main thread, and show each page as it is painted."""
        if self.task is not None:
            self.task.stop()
        self.paper = None
        self.list.clear()
        self.says.setText(tell("laying the pieces out…"))
        self._enable()
        plan, sheet = self.plan, self.sheet.currentData()

        def work(say: Tell) -> Paper | None:
            paper = paper_of(plan, sheet)
            for k in range(len(paper.pages)):
                if say.stopped:
                    return None
                say.better((paper, k, _painted(paper, k)))
            return paper

        self.task = self.session.worker.start(
            tell("laying out the pages"), work, done=self._laid, failed=self._failed, better=self._show_page
        )

    def _show_page(self, found: tuple[Paper, int, QImage]) -> None:
        paper, k, image = found
        if paper.plan is not self.plan or paper.sheet != self.sheet.currentData():
            return
        page = paper.pages[k]
        names = listed([on.piece.title for on in page.pieces])
        lines = [tell("page {k}", k=k + 1), names.write(self.session.units)]
        if page.parts > 1:
            lines.append(tell("part {k} of {n}", k=page.part, n=page.parts))
        image.setDevicePixelRatio(SHARP)
        icon, shown = QIcon(), QPixmap.fromImage(image)
        for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected):
            icon.addPixmap(shown, mode)
        item = QListWidgetItem(icon, "\n".join(lines))
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
        item.setCheckState(Qt.CheckState.Checked)
        item.setData(PAGE, k)
        item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)
        wide, high = (round(v * PX_MM) for v in paper.size_mm)
        self.list.setIconSize(QSize(wide, high))
        self.list.addItem(item)
        if k == 0:
            self.list.setCurrentRow(0)

    def _laid(self, paper: Paper | None) -> None:
        if paper is None or paper.sheet != self.sheet.currentData():
            return
        self.paper, self.task = paper, None
        pieces = len({on.piece.id for page in paper.pages for on in page.pieces})
        pages = several("{n} page", "{n} pages", n=count(len(paper.pages)))
        of = several("{n} piece", "{n} pieces", n=count(pieces))
        self.says.setText(
            tell("{pages} for {pieces}, at true size. Untick what you need not print.",
                 pages=pages.write(self.session.units), pieces=of.write(self.session.units))
        )  # fmt: skip
        self._enable()

    def _failed(self, says: str) -> None:
        self.says.setText(says)

    @property
    def chosen(self) -> tuple[int, ...]:
        """The pages ticked, by their number from 0."""
        items = (self.list.item(k) for k in range(self.list.count()))
        return tuple(i.data(PAGE) for i in items if i.checkState() == Qt.CheckState.Checked)

    def _enable(self) -> None:
        if self._printing:
            self.print_button.setText(tell("Stop"))
            return
        n = len(self.chosen)
        self.print_button.setEnabled(self.paper is not None and n > 0)
        label = several("Print {n} page…", "Print {n} pages…", n=count(n))
        self.print_button.setText(label.write(self.session.units) if n else tell("Print…"))

    def _check(self) -> None:
        """Say what the line measured on paper means."""
        text = self.measured.text().strip()
        if not text:
            return
        try:
            long = read("length", text, self.session.units)
        except VowLineError as error:
            self._judge(str(error), wrong=True)
            return
        says, true = printed_true(long)
        self._judge(says.write(self.session.units), wrong=not true)

    def _judge(self, says: str, *, wrong: bool) -> None:
        self.true.setProperty("wrong", wrong)
        self.true.style().unpolish(self.true)
        self.true.style().polish(self.true)
        self.true.setText(says)

    def print_(self) -> None:
        """Ask for a printer, and print what is ticked; while it prints: stop."""
        if self._printing and self.task is not None:
            self.task.stop()
            return
        if self.paper is None:
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        _sized(printer, self.paper.sheet)
        if not QPrintDialog(printer, self).exec():
            return
        self.print_with(printer)

    def print_with(self, printer: QPrinter) -> None:
        """Print what is ticked, off the main thread; it can be stopped between two pages."""
        assert self.paper is not None
        paper, chosen = self.paper, self.chosen

        def work(say: Tell) -> bool | None:
            return print_on(printer, paper, chosen, say.progress)

        self._printing = True
        self.task = self.session.worker.start(
            tell("printing"), work, done=self._printed, failed=self._failed, progress=self._progressed
        )
        self.task.ended.connect(self._ended)
        self._enable()

    def _progressed(self, share: float, _: str) -> None:
        if self._printing:
            self.says.setText(
                tell("Printing page {k} of {n}…", k=round(share * len(self.chosen)) + 1, n=len(self.chosen))
            )

    def _printed(self, all_of_them: bool | None) -> None:
        if all_of_them is None:
            self.says.setText(tell("The printer did not answer. Export the PDF, and print that at 100 %."))
            return
        if not all_of_them:
            self.says.setText(tell("Stopped; what was printed before is in the tray."))
            return
        n = several("{n} page sent to the printer.", "{n} pages sent to the printer.", n=count(len(self.chosen)))
        self.says.setText(n.write(self.session.units))
        self.measured.setFocus(Qt.FocusReason.OtherFocusReason)

    def _ended(self) -> None:
        self.task, self._printing = None, False
        self._enable()


def _painted(paper: Paper, k: int) -> QImage:
    """A page as it will look, fine enough to be shown small."""
    scale = PX_MM * SHARP
    wide, high = (round(v * scale) for v in paper.size_mm)
    image = QImage(wide, high, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    paint_page(painter, paper, k)
    painter.end()
    return image


def _sized(printer: QPrinter, sheet: PrintSheet) -> None:
    printer.setFullPage(True)
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.A4 if sheet == "A4" else QPageSize.PageSizeId.Letter))
    printer.setPageOrientation(QPageLayout.Orientation.Portrait)


def print_on(
    printer: QPrinter, paper: Paper, pages: tuple[int, ...], progress: Callable[[float], bool] = lambda _: True
) -> bool | None:
    """Print these pages until `progress` says to stop: whether all are; None where the printer does not answer."""
    _sized(printer, paper.sheet)
    painter = QPainter()
    if not painter.begin(printer):
        return None
    all_of_them = paint_pages(painter, printer, paper, printer.resolution(), pages, progress)
    painter.end()
    return all_of_them


def ask_print(session: Session, parent: QWidget) -> PrintPreview | None:
    """Show the pages before they are printed; nothing where there is no pattern yet."""
    if not session.open or session.plan.whole is None or session.plan.sewing is None:
        session.say(NO_PATTERN, wrong=True)
        return None
    preview = PrintPreview(session, parent)
    preview.open()
    return preview
