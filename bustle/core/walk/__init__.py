"""A motion becomes a score; a score is followed."""
