"""Photographs: reading and normalising files, landmark detection, and the stand-in camera's portraits."""
