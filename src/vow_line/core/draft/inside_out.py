"""Whether what is sewn inside out can be turned."""

TURNS_TO_MM = {"veg": 1.6, "oil": 2.4, "chrome": 2.8}  # thicker leather does not turn (from memory)
TURNS_ACROSS = 12.0  # nor does a tube narrower than so many thicknesses (from memory)
