"""Exit codes, and the fault of a wrong word on the command line."""

INSIDE, OUTSIDE, USAGE, NOT_JUDGED, UNREADABLE = 0, 1, 2, 3, 4


class UsageFault(Exception):
    """What was typed cannot be meant; the text says what would be right."""
