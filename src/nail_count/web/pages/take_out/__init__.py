"""Take a house out: the job file, a spreadsheet, tables, drawings, papers."""
