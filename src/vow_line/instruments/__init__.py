"""Devices at the bench, each a small interface with a stand-in that ships with it."""
