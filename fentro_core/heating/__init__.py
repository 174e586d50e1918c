"""Heating: rise, heat given, heat to be expected."""
