"""What everything stands on: units, measured values, working, sentences, refusals, verdicts, calculations, typed JSON."""
