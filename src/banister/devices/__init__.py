"""Devices at the joint: the serial line they speak, recorded traces. They know the core and nothing else of the program."""
