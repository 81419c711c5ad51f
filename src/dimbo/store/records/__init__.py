"""What is held of a client as a whole: the trail, how long it is kept, everything that there is, and the tombstone."""
