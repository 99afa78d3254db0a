"""Colours, type and style."""
