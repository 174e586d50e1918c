"""Simulated devices and services, on the core only. Deterministic by seed, stepped in simulated time."""
