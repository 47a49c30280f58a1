"""What a meter on the arc tells: rods, arc time, energy, restarts, and what is amiss; one sample at a time, in constant memory."""
