"""Instruments of the product."""
