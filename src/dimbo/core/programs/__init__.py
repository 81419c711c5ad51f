"""The program as a document: its lines, its settings and ceilings, and how its doses move and differ."""
