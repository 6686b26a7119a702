"""The interface for programs: everything the pages do, as JSON, by the same edits."""
