"""Photos of plates, sites and stations: kept once, by their hash."""
