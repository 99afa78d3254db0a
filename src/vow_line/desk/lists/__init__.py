"""Lists of rows: sums, findings, steps."""
