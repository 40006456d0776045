"""The plan: frozen, versioned, everything derived from the stack. Its JSON is the contract's."""
