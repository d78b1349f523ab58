"""The computation: NumPy in, frozen values out. Knows no web, no database, no files, no clock."""
