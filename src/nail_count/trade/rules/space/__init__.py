"""Judge by real size whether everything goes in: depth and bulk."""
