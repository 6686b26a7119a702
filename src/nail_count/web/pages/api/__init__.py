"""Show programs how to ask: jobs as files, checks as data."""
