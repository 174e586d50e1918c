"""The parts of a phase's work, one file each: what is worked out from the readings on one bench."""
