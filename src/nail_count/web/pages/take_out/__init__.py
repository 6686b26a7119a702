"""A house taken out: the job file, a spreadsheet, tables, drawings, papers."""
