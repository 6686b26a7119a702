"""Words and figures as people read and write them; no rule, no state."""
