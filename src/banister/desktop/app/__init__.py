"""The window and what stands about it: start, frame, menus, files, theme, help."""
