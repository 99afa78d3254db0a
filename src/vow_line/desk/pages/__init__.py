"""One page for each thing the desk shows whole: the shelf, beginning, a station, the vow, sewing."""
