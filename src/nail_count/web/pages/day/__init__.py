"""Plan the days of a job by breaker, draw them, tick them, plan again."""
