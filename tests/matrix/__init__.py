"""The fixed matrix of joints whose caps are checked: matrix.json says which, run.py checks them all."""
