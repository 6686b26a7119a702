"""Judge the loads on each device against what it may carry where it stands."""
