"""One measure a file: a function of a reading."""
