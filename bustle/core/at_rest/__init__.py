"""The machine as a whole, at rest: how it lies, stands, folds and is listed."""
