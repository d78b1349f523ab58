"""What feet and joints carry."""
