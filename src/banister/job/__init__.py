"""The document's life: file format, atomic saving, locks, recovery, history, and data that ships."""
