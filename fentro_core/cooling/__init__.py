"""Cooling: split, capacity, and what this unit should give now."""
