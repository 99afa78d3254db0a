"""`./run texts`: every text that can be said, collected by gettext's tools into a template for translators."""

from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po

SOURCE = Path(__file__).parent.parent / "src" / "vow_line"
TEMPLATE = SOURCE / "resources" / "texts.pot"
KEYWORDS = {"said": None, "tell": None, "translated": None, "several": (1, 2), "word": (1, (2, "c"))}


def catalogue() -> Catalog:
    """All texts of the source, with where they stand."""
    found = Catalog(project="Vow Line", charset="utf-8")
    for file, line, message, comments, context in extract_from_dir(
        str(SOURCE), [("**.py", "python")], keywords=KEYWORDS
    ):
        found.add(message, locations=[(file, line)], auto_comments=comments, context=context)
    return found


def main() -> None:
    """Write the template."""
    with TEMPLATE.open("wb") as out:
        write_po(out, catalogue(), width=110, omit_header=True, sort_output=True)
    print(f"{len(catalogue())} texts: {TEMPLATE}")


if __name__ == "__main__":
    main()
