"""Plan the days of a job by breaker: which places share a slot, when each breaker is off, and who has no power."""
