"""Reading, checking, writing, comparing and merging a project."""
