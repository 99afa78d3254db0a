"""A form for values that the drawing has no room for: words, choices, numbers in the maker's units, and lines of text."""

from collections.abc import Callable
from typing import Any, NamedTuple, TypeVar

from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)  # fmt: skip

from ...core.errors import VowLineError
from ...core.job import Job, change, value_at
from ...core.quantity import Kind, Q, write
from ...core.texts import Said, heading
from ...core.typed import read
from ..look.ink import type_
from ..look.words import Words

Texts = tuple[tuple[Said, str], ...]
"""Names and places of words."""
Chosen = tuple[tuple[Said, str, tuple[tuple[Said, Any], ...]], ...]
"""Names and places of choices, with the words and values to choose from."""
Numbers = tuple[tuple[Said, str, Kind], ...]
"""Names, places and kinds of numbers."""


class Lines(NamedTuple):
    """A field of text that stands for more than one value: how it is written, and the job with what was written in it. It is
    `tall` where it has many lines.
    """

    name: Said
    write: Callable[[Job], str]
    take: Callable[[Job, str], Job]
    tall: bool = False


Row = TypeVar("Row", bound=QWidget)


class ValuesDialog(QDialog):
    """Asks for them; `chosen` puts the answers into a job."""

    def __init__(
        self, job: Job, title: str, parent: QWidget, *, words: Texts = (), chosen: Chosen = (), numbers: Numbers = (),
        lines: tuple[Lines, ...] = (),
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setWindowTitle(title)
        self.job, self.units = job, job.units
        self._chosen, self._numbers, self._lines = chosen, numbers, lines
        self.words: dict[str, QLineEdit] = {}
        self.choices: dict[str, QComboBox] = {}
        self.numbers: dict[str, QLineEdit] = {}
        self.lines: list[QLineEdit | QPlainTextEdit] = []
        self.form = QFormLayout(self)
        self.form.setVerticalSpacing(9)
        self._more()
        for says, path in words:
            self.words[path] = self._row(says, QLineEdit(str(value_at(job, path)), self))
        for says, path, items in chosen:
            combo = self.choices[path] = self._row(says, QComboBox(self))
            combo.addItems([word.write(self.units) for word, _ in items])
            combo.setCurrentIndex([value for _, value in items].index(value_at(job, path)))
        for says, path, kind in numbers:
            text = write(Q(kind, float(value_at(job, path))), self.units)
            self.numbers[path] = self._row(says, QLineEdit(text, self))
        for line in lines:
            field = QPlainTextEdit(line.write(job), self) if line.tall else QLineEdit(line.write(job), self)
            self.lines.append(self._row(line.name, field))
        self.wrong = Words(self)
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        self.form.addRow(self.wrong)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, parent=self
        )
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        self.form.addRow(buttons)

    def _more(self) -> None:
        """What a dialog of its own has above these."""

    def _row(self, says: Said, widget: Row) -> Row:
        widget.setAccessibleName(says.write(self.units))
        widget.setFont(type_(16))
        self.form.addRow(heading(says), widget)
        return widget

    def _take(self) -> None:
        try:
            self.chosen(self.job)
        except VowLineError as error:
            self.wrong.setText(str(error))
            self.wrong.show()
        else:
            self.accept()

    def chosen(self, job: Job) -> Job:
        """The job with the answers; what was only rounded for showing stays as it was. Raises RefusedChange and
        UnreadableQuantity.
        """
        for path, field in self.words.items():
            job = change(job, path, field.text().strip())
        for _, path, items in self._chosen:
            job = change(job, path, items[self.choices[path].currentIndex()][1])
        for _, path, kind in self._numbers:
            was = write(Q(kind, float(value_at(job, path))), self.units)
            if self.numbers[path].text().strip() != was:
                job = change(job, path, read(kind, self.numbers[path].text(), self.units))
        for line, given in zip(self._lines, self.lines, strict=True):
            text = given.toPlainText() if isinstance(given, QPlainTextEdit) else given.text()
            if text.strip() != line.write(job).strip():
                job = line.take(job, text)
        return job


def ask(session: Any, dialog: ValuesDialog, doing: str) -> bool:
    """Show a dialog, and do what was answered under its name."""
    return bool(dialog.exec()) and bool(session.do(doing, dialog.chosen))
