"""The proof of a ventilator: tests, what was seen of them, what it says together."""
