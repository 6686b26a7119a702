"""Whether things fit together: a box its job, a house itself; findings, never validators."""
