"""A system over its visits: numbers that mean the same on any day, and whether they drift."""
