"""Talking to a vehicle: CAN, ISO-TP, UDS and the legislated services; the logger; the loader."""
