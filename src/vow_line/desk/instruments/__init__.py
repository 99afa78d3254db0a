"""Instruments at the desk: a caliper, pictures, outlines from files."""
