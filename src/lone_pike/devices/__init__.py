"""Devices at the stand: what their lines mean, and small stand-ins that speak like them."""
