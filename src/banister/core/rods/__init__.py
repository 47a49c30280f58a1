"""Stick electrodes: what one rod leaves in the joint, how long it burns, which bead a hand can hold."""
