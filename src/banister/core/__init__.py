"""What the trade knows: values and pure functions. No Qt, no files, no clock."""
