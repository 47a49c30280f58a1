"""Display lists: drawings as tuples of plain shapes in mm, painted by the window, SVG and PDF alike."""
