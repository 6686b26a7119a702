"""Find the fault: the symptom, the next reading, the cause."""
