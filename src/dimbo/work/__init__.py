"""Use cases: load, call the core, save, in one transaction each. Shared by web, worker, demo and tests."""
