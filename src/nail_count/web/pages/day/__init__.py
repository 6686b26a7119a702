"""The days of a job by breaker: planned, drawn, ticked, planned again."""
