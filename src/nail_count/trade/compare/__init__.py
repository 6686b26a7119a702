"""Tell what differs between two boxes, and between two checks."""
