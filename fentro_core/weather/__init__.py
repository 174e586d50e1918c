"""The weather of a place by the hour: of a year, or of a night to come."""
