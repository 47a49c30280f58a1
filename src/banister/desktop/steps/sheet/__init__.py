"""The sheet: what is issued, checked, printed and written."""
