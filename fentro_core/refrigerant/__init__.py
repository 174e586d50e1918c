"""The refrigerant's side, optional everywhere."""
