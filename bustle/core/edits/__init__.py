"""Edits: a project in, another out."""
