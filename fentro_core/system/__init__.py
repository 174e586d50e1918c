"""What stands there: nameplates by kind of system, the way of the air, the places to read."""
