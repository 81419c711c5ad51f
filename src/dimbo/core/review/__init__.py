"""Practice judged, and what comes of it: adherence, the weekly verdict, what it lays out, breaks, alarms, the end."""
