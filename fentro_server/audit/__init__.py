"""Who did what when, besides the entries of logbooks: sign-ins, exports, signatures, people let in. Only added to."""
