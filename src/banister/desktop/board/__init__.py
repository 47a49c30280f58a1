"""The board: several joints in time, ordered so that waits are used."""
