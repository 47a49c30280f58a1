"""The limits of the qualified procedure, and of the acceptance set chosen."""
