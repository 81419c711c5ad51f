"""What the coach looks at and decides: the desk, the course of a client, the weekly review, groups, tables out."""
