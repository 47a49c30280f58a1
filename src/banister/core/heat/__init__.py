"""Preheat, cooling times, the cooling model and the schedules that follow from it."""
