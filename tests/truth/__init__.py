"""Proof of the rules: cases that must, must not, lie just either side, and lack their reading."""
