"""Visits of the product."""
