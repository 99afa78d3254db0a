"""`./run shots`: one picture of each main view, from the demo, into docs/screenshots."""

import sys
import tempfile
from pathlib import Path

from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from vow_line.core.measure.things.knife import Knife
from vow_line.desk.actions import switches
from vow_line.desk.start import Places, application, make_window

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
VIEWS = (
    ("shelf", "", ""), ("measure", "laying-knife", "measure"), ("draft", "laying-knife", "draft"),
    ("stitch", "laying-knife", "stitch"), ("thread", "laying-knife", "thread"), ("layout", "laying-knife", "layout"),
    ("vow", "hedging-knife", "vow"), ("cut", "spar-knife", "cut"), ("form", "spar-knife", "form"),
    ("sew", "spar-knife", "sew"), ("edge", "spar-knife", "edge"), ("record", "grafting-knife", "record"),
    ("measure-arm", "thorn-cuff", "measure"), ("draft-billhook", "billhook-cover", "draft"),
    ("draft-cuff", "thorn-cuff", "draft"), ("draft-waistcoat", "waistcoat", "draft"),
    ("draft-glove", "bramble-glove", "draft"), ("begin", "", "begin"),
)  # fmt: skip


def main(wanted: list[str]) -> None:
    """Take those wanted, or all."""
    app = application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder)
        frame = make_window(Places(home, home / "state"), demo=True)
        frame.show()
        frame.fill()
        desk = frame.desk
        assert desk is not None
        QTest.qWait(200)
        for name, job, station in (*VIEWS, ("draft-evening", "laying-knife", "draft")):
            if wanted and name not in wanted:
                continue
            if desk.pages.ink.name != ("evening" if name.endswith("evening") else "day"):
                switches.ink(desk.session)
            if station == "begin":
                desk.pages.ask_to_begin()
                desk.pages.begin.show_kinds_for(Knife)
            elif job:
                desk.session.open_file(home / "demo" / f"{job}.vow.json")
                desk.session.go(station)
            else:
                desk.pages.show_shelf()
                while any(j.card is None and not j.wrong for j in desk.pages.shelf.jobs):
                    QTest.qWait(5)
            QTest.qWait(120)
            QApplication.processEvents()
            frame.grab().save(str(FOLDER / f"{name}.png"))
        frame.close()
    del app


if __name__ == "__main__":
    main(sys.argv[1:])
