"""A whole program worked out week by week, checked in one pass, and drafted from an intake."""
