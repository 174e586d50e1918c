"""Readings: what can be read, how far it can be trusted, and how several points become one value."""
