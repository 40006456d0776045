"""Use cases that join core and store. No Flask."""
