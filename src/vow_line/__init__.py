"""Vow Line: a workbench for fitted leather."""
