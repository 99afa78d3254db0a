"""Job files fetched and saved, and what is asked where the file was changed elsewhere, has other names or is there."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ...core.texts import tell
from ...files.job_json import JOB_SUFFIX
from ...files.whole import HasOtherNames
from ..look.asking import ask_where, choose
from ..session import Session

MOST_SHOWN = 8


def _files() -> str:
    """What a file dialog lets be chosen, as Qt wants it."""
    ours, every = tell("Vow Line jobs"), tell("All files")
    return f"{ours} (*{JOB_SUFFIX});;{every} (*)"


def fetch(session: Session, parent: QWidget) -> None:
    """Ask for a job file, and open it."""
    chosen, _ = QFileDialog.getOpenFileName(parent, tell("Fetch a job file"), str(session.jobs_folder), _files())
    if chosen:
        session.open_file(Path(chosen))


def save(session: Session, parent: QWidget) -> None:
    """Save; what was changed elsewhere is written over by nobody who did not choose it."""
    if session.changed_elsewhere:
        ask_elsewhere(session, parent)
    else:
        save_to(session, parent)


def save_to(session: Session, parent: QWidget, path: Path | None = None, *, over: bool = False) -> None:
    """Save there, or to the job's file; a file that has other names is parted from them only where that is meant."""
    try:
        session.save(path, over=over)
    except HasOtherNames as error:
        answers = (tell("Save it &here alone"), tell("&Leave it as it is"))
        if choose(parent, tell("It has other names"), str(error), *answers) == 0:
            session.save(path, over=over, part=True)


def ask_elsewhere(session: Session, parent: QWidget) -> None:
    """Say what differs between the job here and what its file holds now, and what is to be kept."""
    if session.path is None:
        return
    differ = session.elsewhere()
    if differ is None:
        shown = [tell("What is there now cannot be read.")]
    else:
        shown = [f"·  {d.write(session.units)}" for d in differ[:MOST_SHOWN]] or [
            tell("The same job, written otherwise.")
        ]
        if len(differ) > MOST_SHOWN:
            shown.append(tell("and {n} more", n=str(len(differ) - MOST_SHOWN)))
    says = tell(
        "{file} was changed elsewhere since it was opened here.\n\n{differences}\n\nBoth can be kept. In its place: what is "
        "there now stays beside it, with ~ after its name. Opened instead: what is not saved here is kept, and can be laid "
        "beside.",
        file=session.path.name, differences="\n".join(shown),
    )  # fmt: skip
    answers = (
        tell("Save this &beside it"),
        tell("Put this in its &place"),
        tell("&Open that instead"),
        tell("&Leave both as they are"),
    )
    match choose(parent, tell("Changed elsewhere"), says, *answers):
        case 0:
            session.save_beside()
        case 1:
            save_to(session, parent, over=True)
        case 2:
            session.open_file(session.path)


def save_as(session: Session, parent: QWidget) -> None:
    """Ask for a place, and save there."""
    if session.path is None:
        return
    path = ask_where(parent, tell("Save the job as"), session.path, _files(), JOB_SUFFIX)
    if path == session.path:
        save(session, parent)
    elif path is not None:
        save_to(session, parent, path)
