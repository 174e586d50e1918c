"""What holds for all tests: no example fails for being slow, because nothing here is a timed test."""

from hypothesis import settings

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
