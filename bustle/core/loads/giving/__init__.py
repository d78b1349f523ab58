"""How far the machine gives under what it carries, and what that does to where it stands, lifts and goes."""
