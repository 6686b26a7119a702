"""What was written in an earlier format, as the present one has it: from dict to dict, one step a module."""
