"""The window and what stands about it: start, frame, menus, files, theme, help."""

from banister.desktop.app.overrides import guard_overrides

guard_overrides()  # before any widget's class is made: all of them take their theme and styles from here
