"""One practice to the second: its timeline, its eased versions, what two programs make of a day, and what was done of it."""
