"""Banister: planner and weld-side guide for multi-pass groove welds."""

__version__ = "0.1.0"
