"""Batch use of the core, the job file and the exports. Never imports Qt."""
