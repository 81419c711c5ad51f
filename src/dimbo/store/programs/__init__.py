"""Program documents with versions, templates, confirmed starting values."""
