"""How far the readings can be trusted, and logger files."""
