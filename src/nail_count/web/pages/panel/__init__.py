"""The breakers and what hangs on each."""
