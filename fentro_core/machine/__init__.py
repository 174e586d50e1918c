"""What this machine would show now, sound or with a cause; and how likely that makes what was read."""
