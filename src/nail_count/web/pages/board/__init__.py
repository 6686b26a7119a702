"""All jobs; files brought in; backups."""
