"""Static pressures along the way of the air."""
