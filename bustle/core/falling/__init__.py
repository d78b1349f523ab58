"""Walks that live by their timing: how a machine tips, rocks and pushes over its soles, and what it falls with."""
