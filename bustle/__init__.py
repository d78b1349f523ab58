"""Bustle plans how a small legged robot walks."""
