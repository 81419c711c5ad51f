"""The craft: rules and arithmetic on plain values. No I/O, no clock, no framework, no SQL."""
