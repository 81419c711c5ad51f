"""Paper: what is handed to a client, as PDF with the product's own fonts."""
