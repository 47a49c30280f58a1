"""The step of inspection."""
