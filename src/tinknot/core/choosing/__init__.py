"""A window against a catalogue, all sleeves of a joint together, where parts wait before they are shrunk."""
