"""Grooves: their walls, areas, volumes, and the position they are welded in."""
