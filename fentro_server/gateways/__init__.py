"""Gateways of live probes and of controllers: each belongs to a company, at an address that the operator allows."""
