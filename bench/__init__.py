"""Measured speed, as ratios beside a reference in the same run."""
