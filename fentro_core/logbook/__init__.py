"""The record of a visit: entries and their kinds, what may be entered, what still stands, the snapshot."""
