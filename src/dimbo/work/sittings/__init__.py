"""Photographs: taken in, analysed, measured, rated, carried out."""
