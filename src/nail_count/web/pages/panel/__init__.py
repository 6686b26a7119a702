"""Show the breakers and what each feeds."""
