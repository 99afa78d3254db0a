"""A surface laid flat so that the leather need stretch by no more than it gives: what it lacks in width it has too much of
elsewhere, and stands off.
"""

from .settle import Complex, Energy, Limit, settled

FIRST_TIMES, MORE_TIMES, MOST_TIMES = 200.0, 5.0, 2e5  # so much more what stretches too far weighs, till none does
WITHIN = 1.05  # it stretches by no more than it gives, within so much of that
SETTLED, NEARLY = 1e-7, 1e-2  # it is settled when the energy falls by less than this share of itself; or nearly


def held_to(gives: float, energy: Energy, z: Complex) -> Complex:
    """Points `(n,)` that are settled, settled again so."""
    weighs = FIRST_TIMES
    if energy.stretch(z) <= gives:  # it need not by itself
        return z
    while True:
        limited = energy.limited(Limit(1 / (1 + gives), weighs))
        z = settled(limited, z, NEARLY)[0]
        if limited.stretch(z) <= WITHIN * gives or weighs >= MOST_TIMES:
            z = settled(limited, z, SETTLED)[0]
            if limited.stretch(z) <= WITHIN * gives or weighs >= MOST_TIMES:
                return z
        weighs *= MORE_TIMES
