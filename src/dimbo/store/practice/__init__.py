"""What a client did and told: logs, check-ins, habits."""
