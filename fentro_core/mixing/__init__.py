"""Outdoor air mixed into the return."""
