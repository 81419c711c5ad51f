"""A practice's own exercises in versions, their clips and pictures, and the cards that assignments were made with."""
