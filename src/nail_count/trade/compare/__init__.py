"""What is otherwise between two boxes, and between two checks."""
