"""The proof of zones: what to call, what is due at every register, and from all that was seen to the one thing that is wrong."""
