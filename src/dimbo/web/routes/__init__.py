"""One router per place of the interface."""
