"""Writers from plans and display lists: JSON, CSV, SVG, PDF. No Qt."""
