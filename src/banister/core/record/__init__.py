"""The record of a joint: what was planned, welded, found and signed, as one value with one digest; and whether a welder's mark is in force."""
