"""Whether it goes in by real size: depth and bulk."""
