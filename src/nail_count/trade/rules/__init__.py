"""Judge a box, a circuit, a job. Each rule takes things and gives one answer."""
