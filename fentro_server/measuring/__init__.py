"""Live probes, samples and logger files."""
