"""Programs written: the sheet, drafts, templates, open formats, the hand-out, and how a practice works."""
