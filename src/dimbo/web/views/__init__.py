"""From values to what goes over the wire, by room."""
