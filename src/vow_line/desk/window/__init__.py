"""The window and what is in it."""
