"""Read and write words and figures the way people do. No rules."""
