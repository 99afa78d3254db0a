"""Ids of what is one wearer's own, where one job is for several."""

OF = "~"


def own(id: str, number: int) -> str:
    """The id of what is the own of the wearer of that number: the first's are as they are."""
    return f"{id}{OF}{number}" if number > 1 else id


def number_of(id: str) -> int:
    """The number of the wearer whose own it is."""
    return int(id.partition(OF)[2].partition("/")[0] or 1)


def base(id: str) -> str:
    """What it is called whoever it is for: what is chosen for it is chosen for all."""
    return id.partition(OF)[0]
