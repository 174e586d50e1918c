"""The record of a visit: its report on page and paper, editions that are signed and never change, and their fingerprints."""
