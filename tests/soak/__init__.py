"""A long try of everything with random input and faults put in, seeded by the day. See `docs/failures.md`."""
