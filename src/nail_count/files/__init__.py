"""Read and write the open formats: job file, archive, tables, drawings, PDF."""
