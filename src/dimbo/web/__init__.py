"""The HTTP interface: routers and schemas, no rules."""
