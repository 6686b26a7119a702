"""Plan the days of a job by breaker: which places in one slot, what is off when, who is without what."""
