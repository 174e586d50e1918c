"""A set of simulated wireless probes with an open protocol on loopback (docs/probes.md)."""
