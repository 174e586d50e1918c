"""Accounts of the product."""
