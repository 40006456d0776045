"""A screened cable joined: its ends laid open, its units spliced, foil and braid made good over them."""
