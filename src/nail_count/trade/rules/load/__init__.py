"""What hangs on each device against what it may carry where it stands."""
