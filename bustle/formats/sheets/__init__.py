"""Sheets of paper for the bench. A new sheet is one function and one line in `bench_sheets`."""
