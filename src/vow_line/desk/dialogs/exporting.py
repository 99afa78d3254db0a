"""Export: what and where in one place; it says what it wrote, and opens the folder."""

from pathlib import Path

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...core.reckoning import count
from ...core.texts import said, several, tell
from ...files import export, formats
from ...files.job_json import JOB_SUFFIX
from ..look.asking import may_write_over
from ..look.ink import BOLD, type_
from ..look.words import Words
from ..session import Session, Tell
from .working import WorkingDialog

NO_PATTERN = said("There is no pattern yet: this job waits for readings at Measure.")


class ExportDialog(WorkingDialog):
    """Ticks for what is written, the folder it goes into; the work is done by the worker and can be stopped."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(session, parent, tell("Export"))
        assert session.path is not None
        self.setMinimumWidth(620)
        self.folder = session.path.parent
        self._name = session.path.name.removesuffix(JOB_SUFFIX)
        title = Words(tell("What is to be written"), self)
        title.setFont(type_(20, BOLD))
        what = QGridLayout()
        what.setVerticalSpacing(8)
        what.setHorizontalSpacing(28)
        self.ticks: dict[str, QCheckBox] = {}
        for k, form in enumerate(formats(self.plan)):
            tick = QCheckBox(form.name.write(session.units), self)
            tick.setFont(type_(16))
            tick.setChecked(True)
            tick.toggled.connect(self._enable)
            self.ticks[form.suffix] = tick
            file = Words(f"{self._name}{form.suffix}", self)
            file.setObjectName("state")
            file.setFont(type_(14))
            what.addWidget(tick, k, 0)
            what.addWidget(file, k, 1)
        what.setColumnStretch(1, 1)
        self.where = Words(self)
        self.where.setFont(type_(15))
        self.where.setWordWrap(True)
        another = QPushButton(tell("Another folder…"), self)
        another.setObjectName("another")
        another.clicked.connect(self._choose)
        place = QHBoxLayout()
        place.addWidget(self.where, 1)
        place.addWidget(another)
        self.bar = QProgressBar(self)
        self.bar.setAccessibleName(tell("How far the export is"))
        self.bar.hide()
        self.says = Words(self)
        self.says.setObjectName("says")
        self.says.setWordWrap(True)
        self.says.setFont(type_(15))
        self.says.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.write_button, self.open_button = (
            QPushButton(tell("Write them"), self),
            QPushButton(tell("Open the folder"), self),
        )
        self.write_button.setObjectName("write")
        self.open_button.setObjectName("open")
        self.close_button = QPushButton(tell("Close"), self)
        self.close_button.setObjectName("close")
        self.write_button.clicked.connect(self._press)
        self.open_button.clicked.connect(self.open_folder)
        self.close_button.clicked.connect(self.reject)
        self.open_button.setEnabled(False)
        under = QVBoxLayout(self)
        under.setContentsMargins(26, 22, 26, 20)
        under.setSpacing(12)
        under.addWidget(title)
        under.addLayout(what)
        under.addSpacing(6)
        under.addLayout(place)
        under.addWidget(self.bar)
        under.addWidget(self.says)
        under.addLayout(self.row_of(self.close_button, self.open_button, self.write_button))
        self.into(self.folder)

    def into(self, folder: Path) -> None:
        """Write into this folder."""
        self.folder = folder
        self.where.setText(tell("into {folder}", folder=str(folder)))
        self._enable()

    def _choose(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, tell("Export into"), str(self.folder))
        if chosen:
            self.into(Path(chosen))

    def _enable(self) -> None:
        self.write_button.setEnabled(self.task is not None or any(t.isChecked() for t in self.ticks.values()))
        self.write_button.setText(tell("Stop") if self.task is not None else tell("Write them"))

    def _press(self) -> None:
        if self.task is not None:
            self.task.stop()
        else:
            self.write()

    def write(self) -> None:
        """Write what is ticked."""
        plan, folder, name = self.plan, self.folder, self._name
        only = {suffix for suffix, tick in self.ticks.items() if tick.isChecked()}
        if not may_write_over(self, [folder / f"{name}{suffix}" for suffix in self.ticks if suffix in only]):
            return

        def work(tell: Tell) -> tuple[Path, ...]:
            return export(plan, folder, name, tell.progress, only)

        self.says.clear()
        self.bar.setValue(0)
        self.bar.show()
        self.task = self.session.worker.start(
            tell("exporting"), work, done=self._written, failed=self._failed, progress=self._progressed
        )
        self.task.ended.connect(self._ended)
        self._enable()

    def _progressed(self, share: float, says: str) -> None:
        self.bar.setValue(round(100 * share))
        self.says.setText(tell("Writing: {what}", what=says))

    def _written(self, written: tuple[Path, ...]) -> None:
        if not written:
            self._say(tell("Nothing was written."), wrong=False)
            return
        self.open_button.setEnabled(True)
        self.open_button.setFocus(Qt.FocusReason.OtherFocusReason)
        names = ", ".join(p.name for p in written)
        n = several("{n} file written into {folder}: {names}.", "{n} files written into {folder}: {names}.",
                    n=count(len(written))).filled(folder=str(self.folder), names=names)  # fmt: skip
        self._say(n.write(self.session.units), wrong=False)

    def _failed(self, says: str) -> None:
        self._say(says, wrong=True)

    def _say(self, text: str, *, wrong: bool) -> None:
        self.says.setProperty("wrong", wrong)
        self.says.style().unpolish(self.says)
        self.says.style().polish(self.says)
        self.says.setText(text)
        self.session.say(text, wrong=wrong)

    def _ended(self) -> None:
        self.task = None
        self.bar.hide()
        self._enable()

    def open_folder(self) -> None:
        """Show the folder in the desktop's own file manager."""
        if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(self.folder))):
            self._say(tell("Nothing here opens folders. It is {folder}.", folder=str(self.folder)), wrong=True)


def ask_export(session: Session, parent: QWidget) -> ExportDialog | None:
    """Ask what to write, and where; nothing where there is no pattern yet."""
    if not session.open or session.plan.whole is None or session.plan.sewing is None or session.path is None:
        session.say(NO_PATTERN, wrong=True)
        return None
    dialog = ExportDialog(session, parent)
    dialog.open()
    return dialog
