"""The language that is spoken: next to nothing to import, so that the first paint speaks it too."""

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from gettext import NullTranslations

_spoken: "NullTranslations | None" = None


def speak(language: "NullTranslations | None") -> None:
    """Write every text in this language from now on; None is the one they are written in here."""
    global _spoken
    _spoken = language


def spoken() -> "NullTranslations | None":
    """The language spoken."""
    return _spoken


def translated(text: str, context: str = "") -> str:
    """A text in the language spoken."""
    if _spoken is None or not text:
        return text
    return _spoken.pgettext(context, text) if context else _spoken.gettext(text)


def translated_for(n: int, one: str, more: str) -> str:
    """A text of one or of several in the language spoken, for `n` of them."""
    if _spoken is None:
        return one if n == 1 else more
    return _spoken.ngettext(one, more, n)
