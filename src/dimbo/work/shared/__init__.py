"""What every use case stands on: refusals, the queue, tokens, how long things are kept."""
