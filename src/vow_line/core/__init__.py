"""The computation: pure functions over frozen records; no Qt, no files, no clock."""
