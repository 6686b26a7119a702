"""Tell whether things fit together: a box its job, a house itself. Findings, never validators."""
