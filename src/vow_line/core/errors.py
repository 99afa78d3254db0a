"""One family of errors: what is wrong, where, and what would mend it."""


class VowLineError(Exception):
    """What is wrong, the place it is wrong at, and the mend; each a plain sentence or empty."""

    def __init__(self, what: str, where: str = "", mend: str = "") -> None:
        self.what = what
        self.where = where
        self.mend = mend
        super().__init__(what, where, mend)

    def __str__(self) -> str:
        place = f"{self.where}: " if self.where else ""
        mend = f" {self.mend}" if self.mend else ""
        return f"{place}{self.what}{mend}"


class UnreadableQuantity(VowLineError, ValueError):
    """A length, thickness or pitch that cannot be read."""


class RefusedChange(VowLineError, ValueError):
    """A value the job cannot hold: negative, absurd, or not of its kind. Its place is an id, which no maker reads."""

    def __str__(self) -> str:
        return f"{self.what} {self.mend}".rstrip()


class UnreadableFile(VowLineError, ValueError):
    """A file that is damaged, foreign, or newer than this program."""


class NewerFormat(UnreadableFile):
    """A file that a newer program wrote: nothing is wrong with it."""


class FailedWrite(VowLineError, OSError):
    """A file that could not be written; what stood there before still stands."""


class AssemblyError(VowLineError, ValueError):
    """Pieces that are not joined as was said: a join names nothing, an edge is joined twice, or not at all, or does not meet
    the next.
    """
