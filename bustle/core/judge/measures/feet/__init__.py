"""What feet do: how they give, play, slip, swing and land."""
