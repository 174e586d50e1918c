"""A visit: the logbook of what was done, the snapshot that holds it, and everything worked out from it."""
